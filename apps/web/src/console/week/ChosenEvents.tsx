import { useState } from 'react';
import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { longDay, timeOfDay } from '@heliphon/contracts/time-words';
import { useCan } from '../../data/session.js';
import { useSources } from '../../data/sources.js';
import { dutiesOfDay, DutyNames } from '../duties/DutyNames.js';
import { BulkBar } from './BulkBar.js';
import { EventTitle, Particulars } from './EventWords.js';

interface ChosenEventsProps {
  readonly events: readonly EventView[];
  readonly zone: string;
  /** What was found may be of any year. */
  readonly hasYear?: boolean;
}

/** Events as plain words, day by day; several can be chosen and changed together. */
export function ChosenEvents({ events, zone, hasYear = false }: ChosenEventsProps) {
  const { data: sources } = useSources();
  const canEdit = useCan('events.edit');
  const [ids, setIds] = useState<ReadonlySet<string>>(new Set());
  const chosen = events.filter(({ id }) => ids.has(id));
  const dayOf = (event: EventView): string => {
    const year = new Intl.DateTimeFormat('en-GB', { timeZone: zone, year: 'numeric' });
    return `${longDay(event.startsAtMs, zone)}${hasYear ? ` ${year.format(event.startsAtMs)}` : ''}`;
  };
  const toggle = (id: string, isChosen: boolean): void => {
    const next = new Set(ids);
    if (isChosen) next.add(id);
    else next.delete(id);
    setIds(next);
  };
  return (
    <>
      {[...new Set(events.map(dayOf))].map((day) => (
        <section key={day} aria-label={day} className="border-t border-line py-2">
          <h2 className="text-[17px]">{day}</h2>
          <DutyNames
            className="flex gap-3"
            duties={dutiesOfDay(events.filter((event) => dayOf(event) === day))}
          />
          <ul className="grid gap-2 pt-1">
            {events
              .filter((event) => dayOf(event) === day)
              .map((event) => (
                <li key={event.id} className="flex min-h-11 items-start gap-2.5">
                  {canEdit && (
                    <input
                      type="checkbox"
                      aria-label={`Choose ${event.title}, ${day}`}
                      className="mt-0.5 size-5 shrink-0 accent-[var(--pine)]"
                      checked={ids.has(event.id)}
                      onChange={(typed) => toggle(event.id, typed.target.checked)}
                    />
                  )}
                  <Link
                    to={event.state === 'air' ? `/events/${event.id}/air` : `/events/${event.id}`}
                    className="flex min-w-0 gap-3 hover:underline"
                  >
                    <span className="figures w-[112px] shrink-0 pt-px whitespace-nowrap text-ink-soft">
                      {timeOfDay(event.startsAtMs, zone)}–{timeOfDay(event.stopsAtMs, zone)}
                    </span>
                    <span className="min-w-0">
                      <EventTitle view={event} />
                      <span className="block text-[13px] text-ink-soft">
                        <Particulars view={event} sources={sources?.items ?? []} />
                      </span>
                    </span>
                  </Link>
                </li>
              ))}
          </ul>
        </section>
      ))}
      {chosen.length > 0 && <BulkBar events={chosen} onDone={() => setIds(new Set())} />}
    </>
  );
}
