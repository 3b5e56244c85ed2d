import type { ReactNode } from 'react';
import { ApiError } from '../data/api.js';
import { fieldSentence, problemSentence } from '../words/problems.js';
import { Button } from './Button.js';
import { Mark } from './Mark.js';
import { UI_TEXT } from '../words/ui.js';

/** The shape of what comes, while it comes. */
export function Loading({ rows = 3, what }: { rows?: number; what: string }) {
  return (
    <div role="status" aria-label={`Loading ${what}`} className="grid gap-3 py-4">
      {Array.from({ length: rows }, (_, row) => (
        <div
          key={row}
          className="h-12 animate-pulse rounded-md bg-sunk"
          style={{ width: `${92 - row * 11}%` }}
        />
      ))}
    </div>
  );
}

/** What happened, what still works, what to do. */
export function Failed({ error, onRetry }: { error: unknown; onRetry?: () => void }) {
  return (
    <div role="alert" className="flex items-start gap-3 rounded-md border border-rust bg-rust-wash p-4">
      <Mark name="trouble" sizePx={20} />
      <p className="flex-1">{problemSentence(error)}</p>
      {onRetry && !(error instanceof ApiError && error.status === 404) && (
        <Button kind="mend" onClick={onRetry}>
          {UI_TEXT.tryAgain}
        </Button>
      )}
    </div>
  );
}

interface FaultProps {
  readonly error: unknown;
  /** Fields that tell it themselves when it is theirs. */
  readonly exceptAt?: readonly string[];
  readonly isSmall?: boolean;
}

/** One line beneath what was tried: what went wrong with it. Nothing while nothing has. */
export function Fault({ error, exceptAt = [], isSmall = false }: FaultProps) {
  if (error === null || exceptAt.some((field) => fieldSentence(error, field) !== null)) return null;
  return (
    <p role="alert" className={`max-w-[60ch] text-rust ${isSmall ? 'text-[13px]' : ''}`}>
      {problemSentence(error)}
    </p>
  );
}

/** An empty room teaches: one sentence, and the first action. */
export function Empty({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <div className="flex flex-wrap items-center gap-4 border-y border-line py-8">
      <p className="max-w-[60ch] text-ink-soft">{children}</p>
      {action}
    </div>
  );
}

interface InsteadOfRowsProps {
  readonly error: unknown;
  readonly onRetry: () => void;
  readonly isLoading: boolean;
  /** What is loaded. */
  readonly what: string;
  /** What is said of a list with nothing in it. */
  readonly empty: string;
}

/** Stands in a list in place of rows that are not there: not come yet, not to be had, or none. */
export const InsteadOfRows = ({ error, onRetry, isLoading, what, empty }: InsteadOfRowsProps) => (
  <li>
    {error ? (
      <Failed error={error} onRetry={onRetry} />
    ) : isLoading ? (
      <Loading what={what} />
    ) : (
      <Empty>{empty}</Empty>
    )}
  </li>
);
