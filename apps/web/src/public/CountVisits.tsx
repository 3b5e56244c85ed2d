import { useEffect, useState } from 'react';
import type { PublicHouse, VisitCounter } from '@heliphon/contracts/house';
import { say } from '../words/say.js';
import { keepConsent, readConsent, startCounting } from './visit-consent.js';

interface CountVisitsProps {
  readonly house: PublicHouse;
  readonly counter: VisitCounter;
}

/** Asks whether the house's own counter may count this visit, and says afterwards what was answered. Nothing is fetched from it before. */
export function CountVisits({ house, counter }: CountVisitsProps) {
  const [mayCount, setMayCount] = useState(() => readConsent(counter));
  useEffect(() => {
    if (mayCount) startCounting(counter);
  }, [mayCount, counter]);
  const answer = (given: boolean): void => {
    keepConsent(counter, given);
    // What runs already cannot be stopped but by leaving.
    if (mayCount && !given) location.reload();
    else setMayCount(given);
  };
  const [isAsked, setAsked] = useState(mayCount === null);
  if (!isAsked)
    return (
      <p className="px-4 text-center text-[0.9375rem] text-ink-soft">
        {say(mayCount ? 'counter.counted' : 'counter.notCounted')}{' '}
        <button type="button" className="public-link" onClick={() => setAsked(true)}>
          {say('counter.change')}
        </button>
      </p>
    );
  const choose = (given: boolean): void => {
    answer(given);
    setAsked(false);
  };
  return (
    <section
      aria-label={say('counter.title')}
      className="mx-auto my-3 grid max-w-[70ch] gap-3 border border-edge bg-[var(--paper)] p-4 md:rounded-md"
    >
      <p>{say('counter.ask', { house: house.name, host: new URL(counter.scriptUrl).host })}</p>
      <div className="flex flex-wrap gap-3">
        <button type="button" className="public-button" onClick={() => choose(true)}>
          {say('counter.yes')}
        </button>
        <button type="button" className="public-button" onClick={() => choose(false)}>
          {say('counter.no')}
        </button>
      </div>
    </section>
  );
}
