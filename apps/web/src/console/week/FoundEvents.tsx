import { useState } from 'react';
import type { EventFilter } from '@heliphon/contracts/events';
import { useFoundEvents } from '../../data/events.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { ChosenEvents } from './ChosenEvents.js';
import { filterQuery } from './filter-query.js';
import { WEEK_TEXT } from '../../words/console/week.js';

interface FoundEventsProps {
  readonly filter: EventFilter;
  readonly todayMs: number;
  readonly zone: string;
}

/** Nobody reads beyond these. */
const COUNT = { first: 30, most: 200 } as const;

/** What a search found: what is to come first, and what has been, a press away. */
export function FoundEvents({ filter, todayMs, zone }: FoundEventsProps) {
  const [isBack, setBack] = useState(false);
  const when = isBack ? `to=${todayMs}&order=latest` : `from=${todayMs}`;
  const [count, setCount] = useState<number>(COUNT.first);
  const { data, error, mutate } = useFoundEvents(`${when}${filterQuery(filter)}`, count);
  const events = data?.items ?? [];
  return (
    <section aria-label={WEEK_TEXT.searchResults}>
      <div className="mb-2 flex items-center gap-2">
        <Button kind={isBack ? 'quiet' : 'plain'} aria-pressed={!isBack} onClick={() => setBack(false)}>
          {WEEK_TEXT.comingUp}
        </Button>
        <Button kind={isBack ? 'plain' : 'quiet'} aria-pressed={isBack} onClick={() => setBack(true)}>
          {WEEK_TEXT.past}
        </Button>
      </div>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading rows={4} what={WEEK_TEXT.whatWasFound} />}
      {data && events.length === 0 && (
        <Empty>{isBack ? WEEK_TEXT.noPastEventMatches : WEEK_TEXT.nothingComingUpMatches}</Empty>
      )}
      <ChosenEvents events={events} zone={zone} hasYear />
      {data?.next && count < COUNT.most && (
        <Button className="mt-3" onClick={() => setCount(COUNT.most)}>
          {WEEK_TEXT.showMore}
        </Button>
      )}
      {data?.next && count === COUNT.most && (
        <p className="mt-3 text-ink-soft">{WEEK_TEXT.thereAreMoreAddAnother}</p>
      )}
    </section>
  );
}
