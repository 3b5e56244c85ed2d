import { type KeyboardEvent, type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';

const HOLD_MS = 1000;

interface HoldButtonProps {
  readonly children: ReactNode;
  readonly onHeld: () => void;
  readonly disabled?: boolean;
  readonly className?: string;
}

/** A button that acts only when it is held for a second, by mouse, touch or Enter: a slip never does it. */
export function HoldButton({ children, onHeld, disabled = false, className = '' }: HoldButtonProps) {
  const [isHeld, setHeld] = useState(false);
  const timer = useRef<number | null>(null);

  const release = (): void => {
    if (timer.current !== null) window.clearTimeout(timer.current);
    timer.current = null;
    setHeld(false);
  };
  useEffect(() => release, []);

  const press = (event: PointerEvent<HTMLButtonElement>): void => {
    if (event.button !== 0) return;
    // A layout that shifts under the pointer lets nothing go: only the hand does.
    event.currentTarget.setPointerCapture(event.pointerId);
    hold();
  };
  const hold = (): void => {
    if (disabled || timer.current !== null) return;
    setHeld(true);
    timer.current = window.setTimeout(() => {
      release();
      onHeld();
    }, HOLD_MS);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    if (!event.repeat) hold();
  };

  return (
    <button
      type="button"
      disabled={disabled}
      data-held={isHeld}
      className={`relative inline-flex min-h-11 touch-none items-center justify-center gap-2 overflow-hidden rounded-md border px-4 font-semibold whitespace-nowrap select-none disabled:opacity-60 ${className}`}
      onPointerDown={press}
      onPointerUp={release}
      onPointerCancel={release}
      onKeyDown={onKeyDown}
      onKeyUp={release}
      onBlur={release}
      onContextMenu={(event) => event.preventDefault()}
    >
      <span
        aria-hidden="true"
        className={`absolute inset-y-0 left-0 bg-current opacity-25 ${isHeld ? 'w-full transition-[width] duration-1000 ease-linear' : 'w-0'}`}
      />
      <span className="relative inline-flex items-center gap-2">{children}</span>
    </button>
  );
}
