import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import type { SourceView } from '@heliphon/contracts/sources';
import { longDay, timeOfDay } from '@heliphon/contracts/time-words';
import { dutiesOfDay, DutyNames } from '../duties/DutyNames.js';
import { EventTitle, Particulars } from './EventWords.js';

interface WeekListProps {
  readonly events: readonly EventView[];
  readonly zone: string;
  readonly sources: readonly SourceView[];
  /** Asked for; on a narrow screen it stands in any case. */
  readonly isChosen: boolean;
}

/** The week as plain words: for phones, and for whoever would rather read than look. */
export function WeekList({ events, zone, sources, isChosen }: WeekListProps) {
  const days = [...new Set(events.map((event) => longDay(event.startsAtMs, zone)))];
  return (
    <div className={isChosen ? '' : 'md:hidden'}>
      {days.map((day) => (
        <section key={day} aria-label={day} className="border-t border-line py-2">
          <h2 className="text-[17px]">{day}</h2>
          <DutyNames
            className="flex gap-3"
            duties={dutiesOfDay(events.filter((event) => longDay(event.startsAtMs, zone) === day))}
          />
          <ul className="grid gap-2 pt-1">
            {events
              .filter((event) => longDay(event.startsAtMs, zone) === day)
              .map((event) => (
                <li key={event.id}>
                  <Link
                    to={event.state === 'air' ? `/events/${event.id}/air` : `/events/${event.id}`}
                    className="flex min-h-11 gap-3 hover:underline"
                  >
                    <span className="figures w-[92px] shrink-0 pt-px text-ink-soft">
                      {timeOfDay(event.startsAtMs, zone)}–{timeOfDay(event.stopsAtMs, zone)}
                    </span>
                    <span className="min-w-0">
                      <EventTitle view={event} />
                      <span className="block text-[13px] text-ink-soft">
                        <Particulars view={event} sources={sources} />
                      </span>
                    </span>
                  </Link>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
