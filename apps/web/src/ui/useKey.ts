import { useEffect, useRef } from 'react';

/** Does something at the press of a letter, never while somebody types; `null`: nothing now. */
export function useKey(letter: string, press: (() => void) | null): void {
  const latest = useRef(press);
  latest.current = press;
  useEffect(() => {
    const onKeyDown = (pressed: KeyboardEvent): void => {
      const { target } = pressed;
      const isTyping = target instanceof HTMLElement && target.matches('input, textarea, select');
      if (isTyping || pressed.ctrlKey || pressed.metaKey || pressed.altKey || pressed.repeat) return;
      if (pressed.key.toLowerCase() !== letter || !latest.current) return;
      // What opens with it may take the letter for the first that is typed.
      pressed.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, [letter]);
}
