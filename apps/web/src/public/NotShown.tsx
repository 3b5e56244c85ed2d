import type { ReactNode } from 'react';

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
          aria-label={`Loading the ${what}`}
          className="mx-auto aspect-video max-w-[846px] animate-pulse bg-[var(--rule)]"
        />
      );
    case 'missing':
      return (
        <Told title="There is nothing at this address.">
          It may have been mistyped, or the {what} was taken away.
        </Told>
      );
    case 'offline':
      return (
        <Told title="We cannot be reached just now.">This page keeps trying and goes on by itself.</Told>
      );
  }
}

const Told = ({ title, children }: { title: string; children: ReactNode }) => (
  <main className="mx-auto max-w-[46ch] p-8 text-center" role="alert">
    <h1 className="mb-2 text-2xl">{title}</h1>
    <p>{children}</p>
  </main>
);
