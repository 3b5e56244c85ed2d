import { useState } from 'react';
import type { EventFilter } from '@heliphon/contracts/events';
import { useFoundEvents } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { ChosenEvents } from './ChosenEvents.js';
import { filterQuery } from './filter-query.js';

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
    <section aria-label="What was found">
      <div className="mb-2 flex items-center gap-2">
        <Button kind={isBack ? 'quiet' : 'plain'} aria-pressed={!isBack} onClick={() => setBack(false)}>
          To come
        </Button>
        <Button kind={isBack ? 'plain' : 'quiet'} aria-pressed={isBack} onClick={() => setBack(true)}>
          Has been
        </Button>
      </div>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading rows={4} what="what was found" />}
      {data && events.length === 0 && (
        <Empty>
          Nothing {isBack ? 'that has been' : 'to come'} has these words and choices. Try fewer of them
          {isBack ? '' : ', or look at what has been'}.
        </Empty>
      )}
      <ChosenEvents events={events} zone={zone} hasYear />
      {data?.next && count < COUNT.most && (
        <Button className="mt-3" onClick={() => setCount(COUNT.most)}>
          Show more
        </Button>
      )}
      {data?.next && count === COUNT.most && (
        <p className="mt-3 text-ink-soft">There are more still. Another word makes them fewer.</p>
      )}
    </section>
  );
}
