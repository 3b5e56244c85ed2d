import { Check, Copy } from 'lucide-react';
import { useEffect, useId, useState } from 'react';
import { Button } from './Button.js';

const TOLD_MS = 2500;

interface CopyFieldProps {
  readonly label: string;
  readonly value: string;
  /** What the button copies: "Copy the key". */
  readonly what: string;
  readonly secret?: boolean;
}

/** Something to be typed elsewhere, with its copy button. A secret is shown on demand. */
export function CopyField({ label, value, what, secret = false }: CopyFieldProps) {
  const id = useId();
  const [isShown, setShown] = useState(!secret);
  const [isCopied, setCopied] = useState(false);
  useEffect(() => {
    if (!isCopied) return;
    const timer = window.setTimeout(() => setCopied(false), TOLD_MS);
    return () => window.clearTimeout(timer);
  }, [isCopied]);

  const copy = async (): Promise<void> => {
    if (navigator.clipboard) await navigator.clipboard.writeText(value);
    else copyBySelection(value);
    setCopied(true);
  };

  return (
    <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-1">
      <label htmlFor={id} className="text-[13px] text-ink-soft">
        {label}
      </label>
      <div className="flex gap-2">
        <input
          id={id}
          readOnly
          type={isShown ? 'text' : 'password'}
          value={value}
          autoComplete="off"
          className="figures min-h-9 min-w-0 flex-1 rounded-md border border-edge bg-sunk px-3 text-sm"
          onFocus={(event) => event.target.select()}
        />
        {secret && <Button onClick={() => setShown(!isShown)}>{isShown ? 'Hide' : 'Show'}</Button>}
        <Button onClick={() => void copy()} aria-label={`Copy ${what}`}>
          {isCopied ? <Check size={16} aria-hidden /> : <Copy size={16} strokeWidth={1.75} aria-hidden />}
          <span aria-live="polite">{isCopied ? 'Copied' : 'Copy'}</span>
        </Button>
      </div>
    </div>
  );
}

/** Without TLS browsers hide the clipboard; what is selected can still be copied. */
function copyBySelection(value: string): void {
  const field = document.createElement('textarea');
  field.value = value;
  document.body.append(field);
  field.select();
  document.execCommand('copy');
  field.remove();
}
