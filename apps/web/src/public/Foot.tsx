import type { ResolvedLook } from '@heliphon/core/appearance/palette';
import { lazy, Suspense } from 'react';
import type { PublicHouse } from '@heliphon/contracts/house';
import { say } from '../words/say.js';

/** Few houses have one. */
const CountVisits = lazy(() =>
  import('./CountVisits.js').then((module) => ({ default: module.CountVisits })),
);
/** In a frame of our own console nobody visits. */
const isFramed = window.parent !== window;

interface FootProps {
  readonly look: ResolvedLook;
  readonly house: PublicHouse;
}

/** The last words of a page: the house's own, and whose work it is unless the house leaves that out. */
export function Foot({ look: { foot, showsOurs }, house }: FootProps) {
  const counter = isFramed ? null : house.visitCounter;
  if (!foot && !showsOurs && !counter) return null;
  return (
    <footer className="grid gap-1 p-2 text-center text-[0.9375rem] text-ink-soft">
      {foot && (
        <p dir="auto" className="whitespace-pre-line">
          {foot}
        </p>
      )}
      {counter && (
        <Suspense>
          <CountVisits house={house} counter={counter} />
        </Suspense>
      )}
      {showsOurs && <p>{say('page.streamedWith')}</p>}
    </footer>
  );
}
