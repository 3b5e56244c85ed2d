import type { CSSProperties, KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { hourOfDay, startOfDay } from '@heliphon/core/schedule/civil-time';
import type { layOutWeek, RotaBar, Ruler, Stretch } from '@heliphon/core/schedule/rota';
import type { EventView } from '@heliphon/contracts/events';
import type { SourceView } from '@heliphon/contracts/sources';
import { useProgrammeNow } from '../../data/live.js';
import { Mark, STATE_WORDS } from '../../ui/Mark.js';
import { dayName, longDay, timeOfDay } from '../../words/times.js';
import type { RotaMove } from '@heliphon/core/schedule/move-on-rota';
import { moveOfKey, useRotaDrag } from './useRotaDrag.js';
import type { rotaEvent } from './rota-event.js';

type Bar = RotaBar<ReturnType<typeof rotaEvent>>;

interface RotaSheetProps {
  readonly layout: ReturnType<typeof layOutWeek<ReturnType<typeof rotaEvent>>>;
  readonly zone: string;
  readonly nowMs: number;
  readonly sources: readonly SourceView[];
  readonly canMove: boolean;
  readonly onMove: (event: EventView, move: RotaMove) => void;
}

const DAY_WIDTH = 92;
const ROW_PX = 66;
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
              <h2
                className={`shrink-0 pt-2 pl-2 font-serif text-[17px] ${isToday ? 'text-pine' : ''}`}
                style={{ width: DAY_WIDTH }}
              >
                {dayName(day.startsAtMs, zone)}
                {isToday && (
                  <span className="block font-sans text-[13px] font-normal text-ink-soft">today</span>
                )}
              </h2>
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

const across = (hour: number, ruler: Ruler): string =>
  `${((hour - ruler.fromHour) / (ruler.toHour - ruler.fromHour)) * 100}%`;

const NowLine = ({ hour, ruler }: { hour: number; ruler: Ruler }) => (
  <span
    aria-hidden="true"
    className="absolute inset-y-0 w-0.5 bg-ink"
    style={{ left: across(hour, ruler) }}
  />
);

const PROGRAMME_LOOK: Readonly<Record<EventView['state'], string>> = {
  planned: 'border-2 border-pine bg-pine-wash',
  doors: 'border-2 border-pine bg-pine-wash',
  air: 'border-2 border-marigold-text bg-marigold',
  kept: 'border border-edge bg-sunk',
  cancelled: 'border border-dashed border-edge',
};

function EventBar({
  bar,
  ruler,
  zone,
  sources,
  canMove,
  onMove,
}: {
  bar: Bar;
  ruler: Ruler;
  zone: string;
  sources: readonly SourceView[];
  canMove: boolean;
  onMove: (move: RotaMove) => void;
}) {
  const drag = useRotaDrag({ hoursAcross: ruler.toHour - ruler.fromHour, canMove, onMoved: onMove });
  const { view } = bar.event;
  const wordsHour = bar.programme?.fromHour ?? bar.doors?.fromHour ?? 0;
  const isLate = wordsHour > ruler.toHour - (ruler.toHour - ruler.fromHour) * 0.2;
  const place = isLate ? { right: 4 } : { left: across(wordsHour, ruler) };
  const top = 8 + bar.row * ROW_PX;
  const onKeyDown = (event: KeyboardEvent): void => {
    const move = canMove && event.altKey ? moveOfKey(event.key, event.shiftKey) : null;
    if (!move) return;
    event.preventDefault();
    onMove(move);
  };
  return (
    <li className={drag.move ? 'relative z-[3] opacity-80' : ''} style={hanging(drag.move, ruler)}>
      {bar.doors && (
        <Piece
          stretch={bar.doors}
          ruler={ruler}
          top={top}
          className="hatched rounded-l-[5px] border border-edge text-edge"
        />
      )}
      {bar.programme && (
        <Piece
          stretch={bar.programme}
          ruler={ruler}
          top={top}
          isMovable={canMove}
          lengthHours={drag.move?.edge === 'end' ? drag.move.hours : 0}
          onGrab={drag.onPointerDown}
          className={
            view.clash
              ? 'hatched-strong border-2 border-plum bg-plum-wash text-plum'
              : PROGRAMME_LOOK[view.state]
          }
        />
      )}
      {bar.overrun && (
        <Piece
          stretch={bar.overrun}
          ruler={ruler}
          top={top}
          className="rounded-r-[5px] border border-l-0 border-dashed border-edge"
        />
      )}
      <Link
        to={view.state === 'air' ? `/events/${view.id}/air` : `/events/${view.id}`}
        onKeyDown={onKeyDown}
        aria-keyshortcuts={canMove ? 'Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown' : undefined}
        draggable={false}
        className="absolute z-[1] max-w-[46%] rounded-sm bg-[color-mix(in_srgb,var(--ground)_78%,transparent)] pr-1.5 leading-tight hover:underline"
        style={{ ...place, top: top + 22 }}
      >
        <span className="flex items-center gap-2 font-semibold">
          <Mark name={view.clash ? 'caution' : view.state} />
          <span className="sr-only">{STATE_WORDS[view.state]}, </span>
          {view.title}
        </span>
        <span className="sr-only">
          {timeOfDay(view.startsAtMs, zone)} to {timeOfDay(view.stopsAtMs, zone)}.{' '}
        </span>
        <span className="block text-[13px] text-ink-soft">
          <Particulars view={view} sources={sources} />
        </span>
      </Link>
    </li>
  );
}

/** While it is dragged a bar hangs where it would fall; only the sheet knows how high its rows are. */
const hanging = (move: RotaMove | null, ruler: Ruler): CSSProperties | undefined =>
  move?.edge === 'whole'
    ? {
        transform: `translate(${(move.hours / (ruler.toHour - ruler.fromHour)) * 100}%, ${move.days * ROW_PX}px)`,
      }
    : undefined;

function Piece({
  stretch,
  ruler,
  top,
  className,
  isMovable = false,
  lengthHours = 0,
  onGrab,
}: {
  isMovable?: boolean;
  lengthHours?: number;
  onGrab?: ReturnType<typeof useRotaDrag>['onPointerDown'];
  stretch: Stretch;
  ruler: Ruler;
  top: number;
  className: string;
}) {
  return (
    <span
      aria-hidden="true"
      className={`absolute h-5 ${className} ${isMovable ? 'z-[2] cursor-grab touch-none' : ''}`}
      onPointerDown={isMovable ? (event) => onGrab?.(event, 'whole') : undefined}
      style={{
        top,
        left: across(stretch.fromHour, ruler),
        width: `calc(${across(stretch.toHour + lengthHours, ruler)} - ${across(stretch.fromHour, ruler)})`,
      }}
    >
      {isMovable && (
        <span
          className="absolute -inset-y-1 -right-1 w-3 cursor-ew-resize touch-none"
          onPointerDown={(event) => {
            event.stopPropagation();
            onGrab?.(event, 'end');
          }}
        />
      )}
    </span>
  );
}

/** What is still to do comes first, then where the picture comes from and goes. */
export function Particulars({ view, sources }: { view: EventView; sources: readonly SourceView[] }) {
  const now = useProgrammeNow(view.id);
  if (view.clash) return <b className="text-plum">wants the same source as “{view.clash.title}”</b>;
  const source = sources.find((candidate) => candidate.id === view.sourceId)?.name;
  const places = view.destinationIds.length;
  const facts = [
    source,
    places === 0 ? 'website' : `website and ${places} more`,
    view.state === 'air' && now && now.viewers > 0 ? `${now.viewers} watching` : null,
  ].filter(Boolean);
  return (
    <>
      {view.openChecks > 0 && <b className="text-plum">{view.openChecks} to do · </b>}
      {facts.join(' · ')}
    </>
  );
}
