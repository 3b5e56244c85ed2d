import { hourOfDay, startOfDay } from '@heliphon/core/schedule/civil-time';
import type { layOutWeek, Ruler } from '@heliphon/core/schedule/rota';
import type { EventView } from '@heliphon/contracts/events';
import type { SourceView } from '@heliphon/contracts/sources';
import { dayName, longDay } from '@heliphon/contracts/time-words';
import type { RotaMove } from '@heliphon/core/schedule/move-on-rota';
import { dutiesOfDay, DutyNames } from '../duties/DutyNames.js';
import { across, EventBar, ROW_PX } from './EventBar.js';
import type { rotaEvent } from './rota-event.js';
import { WEEK_TEXT } from '../../words/console/week.js';

interface RotaSheetProps {
  readonly layout: ReturnType<typeof layOutWeek<ReturnType<typeof rotaEvent>>>;
  readonly zone: string;
  readonly nowMs: number;
  readonly sources: readonly SourceView[];
  readonly canMove: boolean;
  readonly onMove: (event: EventView, move: RotaMove) => void;
}

const DAY_WIDTH = 92;
const EMPTY_DAY_PX = 46;

/** Days down, hours across, every event drawn to scale with its words under it. */
export function RotaSheet({ layout, zone, nowMs, sources, canMove, onMove }: RotaSheetProps) {
  const { ruler, days } = layout;
  const hours = Array.from(
    { length: ruler.toHour - ruler.fromHour + 1 },
    (_, index) => ruler.fromHour + index,
  );
  const today = startOfDay(nowMs, zone);
  return (
    <div className="border-t border-line max-md:hidden" data-rota>
      <div
        aria-hidden="true"
        className="relative h-[23px] border-b border-line"
        style={{ marginLeft: DAY_WIDTH }}
      >
        {hours.slice(1, -1).map((hour) => (
          <span
            key={hour}
            className="figures absolute -translate-x-1/2 text-[13px] leading-[23px] text-ink-soft"
            style={{ left: across(hour, ruler) }}
          >
            {String(hour).padStart(2, '0')}
          </span>
        ))}
      </div>
      <ol>
        {days.map((day) => {
          const isToday = day.startsAtMs === today;
          return (
            <li
              key={day.startsAtMs}
              data-rota-day
              aria-label={longDay(day.startsAtMs, zone)}
              className={`relative flex border-b border-line ${isToday ? 'bg-pine-wash/60' : ''}`}
              style={{ minHeight: day.bars.length === 0 ? EMPTY_DAY_PX : day.rows * ROW_PX + 12 }}
            >
              <div className="shrink-0" style={{ width: DAY_WIDTH }}>
                <h2 className={`pt-2 pl-2 font-serif text-[17px] ${isToday ? 'text-pine' : ''}`}>
                  {dayName(day.startsAtMs, zone)}
                  {isToday && (
                    <span className="block font-sans text-[13px] font-normal text-ink-soft">
                      {WEEK_TEXT.today}
                    </span>
                  )}
                </h2>
                <DutyNames
                  className="pr-1.5 pb-1.5 pl-2"
                  duties={dutiesOfDay(day.bars.map(({ event }) => event.view))}
                />
              </div>
              <div className="relative flex-1" data-rota-hours>
                {hours.slice(1).map((hour) => (
                  <span
                    key={hour}
                    aria-hidden="true"
                    className="absolute inset-y-0 w-px bg-line"
                    style={{ left: across(hour, ruler) }}
                  />
                ))}
                {isToday && <NowLine hour={hourOfDay(nowMs, zone)} ruler={ruler} />}
                <ul>
                  {day.bars.map((bar) => (
                    <EventBar
                      key={bar.event.id}
                      bar={bar}
                      ruler={ruler}
                      zone={zone}
                      sources={sources}
                      canMove={canMove && bar.event.view.state === 'planned'}
                      onMove={(move) => onMove(bar.event.view, move)}
                    />
                  ))}
                </ul>
              </div>
            </li>
          );
        })}
      </ol>
    </div>
  );
}

const NowLine = ({ hour, ruler }: { hour: number; ruler: Ruler }) => (
  <span
    aria-hidden="true"
    className="absolute inset-y-0 w-0.5 bg-ink"
    style={{ left: across(hour, ruler) }}
  />
);
