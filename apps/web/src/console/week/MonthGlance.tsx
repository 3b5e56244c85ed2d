import { addDays, localOf, startOfDay } from '@heliphon/core/schedule/civil-time';
import { monthDays } from '@heliphon/core/schedule/month';
import type { EventFilter, EventGlance } from '@heliphon/contracts/events';
import { longDay, timeOfDay } from '@heliphon/contracts/time-words';
import { useGlance } from '../../data/events.js';
import { Mark } from '../../ui/Mark.js';
import { Failed, Loading } from '../../ui/states.js';
import { filterQuery } from './filter-query.js';
import { WEEK_TEXT } from '../../words/console/week.js';

interface MonthGlanceProps {
  readonly firstDayMs: number;
  readonly nowMs: number;
  readonly zone: string;
  readonly filter: EventFilter;
  readonly onChoose: (dayMs: number) => void;
}

const SHOWN = 3;
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** A month at a glance: a press leads to the week that begins there. */
export function MonthGlance({ firstDayMs, nowMs, zone, filter, onChoose }: MonthGlanceProps) {
  const days = monthDays(firstDayMs, zone);
  const month = localOf(firstDayMs, zone).slice(0, 7);
  const today = startOfDay(nowMs, zone);
  const { data, error, mutate } = useGlance(days[0]!, addDays(days.at(-1)!, 1, zone), filterQuery(filter));
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading rows={6} what={WEEK_TEXT.theMonth} />;
  const of = (dayMs: number): EventGlance[] =>
    data.filter(({ startsAtMs }) => startOfDay(startsAtMs, zone) === dayMs);
  return (
    <div className="border-t border-line">
      <div aria-hidden="true" className="grid grid-cols-7 text-[13px] text-ink-soft">
        {WEEKDAYS.map((name) => (
          <span key={name} className="px-2 py-1">
            {name}
          </span>
        ))}
      </div>
      <ol className="grid grid-cols-7 border-l border-line">
        {days.map((dayMs) => {
          const events = of(dayMs);
          const isOther = localOf(dayMs, zone).slice(0, 7) !== month;
          return (
            <li
              key={dayMs}
              className={`min-h-[92px] border-r border-b border-line ${dayMs === today ? 'bg-pine-wash/60' : ''}`}
            >
              <button
                type="button"
                aria-label={`${longDay(dayMs, zone)}, ${events.length === 1 ? WEEK_TEXT.oneEvent : `${events.length} events`}`}
                className="flex h-full w-full flex-col items-start gap-0.5 p-1.5 text-left hover:bg-hover"
                onClick={() => onChoose(dayMs)}
              >
                <span className={`font-serif text-[15px] ${isOther ? 'text-ink-soft' : 'font-semibold'}`}>
                  {Number(localOf(dayMs, zone).slice(8, 10))}
                </span>
                {events.slice(0, SHOWN).map(({ id, title, startsAtMs, state }) => (
                  <span key={id} className="flex w-full items-center gap-1 text-[13px] leading-tight">
                    <Mark name={state} sizePx={12} />
                    <span className="truncate">
                      {timeOfDay(startsAtMs, zone)} {title}
                    </span>
                  </span>
                ))}
                {events.length > SHOWN && (
                  <span className="text-[13px] text-ink-soft">
                    {WEEK_TEXT.andMore(events.length - SHOWN)}
                  </span>
                )}
              </button>
            </li>
          );
        })}
      </ol>
    </div>
  );
}
