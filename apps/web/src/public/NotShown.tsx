import type { ReactNode } from 'react';
import { say } from '../words/say.js';

interface NotShownProps {
  readonly status: 'loading' | 'missing' | 'offline';
}

/** What stands on a public page while there is nothing to show: the shape of what comes, or what is the matter. */
export function NotShown({ status }: NotShownProps) {
  switch (status) {
    case 'loading':
      return (
        <div
          role="status"
          aria-label={say('page.loading')}
          className="mx-auto aspect-video max-w-[846px] animate-pulse bg-[var(--rule)]"
        />
      );
    case 'missing':
      return <Told title={say('page.nothingHere')}>{say('page.maybeMistyped')}</Told>;
    case 'offline':
      return <Told title={say('page.cannotBeReached')}>{say('page.keepsTrying')}</Told>;
  }
}

const Told = ({ title, children }: { title: string; children: ReactNode }) => (
  <main className="mx-auto max-w-[46ch] p-8 text-center" role="alert">
    <h1 className="mb-2 text-2xl">{title}</h1>
    <p>{children}</p>
  </main>
);
