import type { ReactNode } from 'react';
import { WATCH_TEXT } from '../words/public/watch.js';

interface NotShownProps {
  readonly status: 'loading' | 'missing' | 'offline';
  /** What was looked for at the address. */
  readonly what: 'event' | 'channel' | 'invitation';
}

/** What stands on a public page while there is nothing to show: the shape of what comes, or what is the matter. */
export function NotShown({ status, what }: NotShownProps) {
  switch (status) {
    case 'loading':
      return (
        <div
          role="status"
          aria-label={WATCH_TEXT.loadingThe(what)}
          className="mx-auto aspect-video max-w-[846px] animate-pulse bg-[var(--rule)]"
        />
      );
    case 'missing':
      return <Told title={WATCH_TEXT.thereIsNothingAtThis}>{WATCH_TEXT.mayHaveBeenMistyped(what)}</Told>;
    case 'offline':
      return <Told title={WATCH_TEXT.weCannotBeReachedAt}>{WATCH_TEXT.thisPageWillKeepTrying}</Told>;
  }
}

const Told = ({ title, children }: { title: string; children: ReactNode }) => (
  <main className="mx-auto max-w-[46ch] p-8 text-center" role="alert">
    <h1 className="mb-2 text-2xl">{title}</h1>
    <p>{children}</p>
  </main>
);
