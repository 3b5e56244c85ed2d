import { Link } from 'react-router';
import { hourOfDay } from '@heliphon/core/schedule/civil-time';
import { layOutWeek, type RotaBar, type Ruler } from '@heliphon/core/schedule/rota';
import type { EventView } from '@heliphon/contracts/events';
import { useZone } from '../../data/session.js';
import { useProgrammeNow } from '../../data/live.js';
import { useServerNow } from '../../data/server-clock.js';
import { Mark, STATE_WORDS, Wordmark } from '../../ui/Mark.js';
import { shortDay, timeOfDay } from '@heliphon/contracts/time-words';
import { rotaEvent } from '../week/rota-event.js';
import { useToday } from './useToday.js';
import { placeLampLanes } from './lamp-lanes.js';
import { type LampName, placeLampNames } from './lamp-name.js';
import { FRAME_TEXT } from '../../words/console/frame.js';

/** Today as a ruler of hours with a moving now-line, each event a bar, at most two of them at once, the one on air lit. */
export function LampStrip() {
  const zone = useZone();
  const nowMs = useServerNow();
  const { dayMs, events } = useToday();
  const { days, ruler } = layOutWeek(events.map(rotaEvent), dayMs, zone);
  const bars = [...(days[0]?.bars ?? [])].filter(
    (bar) => bar.programme && bar.event.view.state !== 'cancelled' && !bar.event.view.isDraft,
  );
  const lanes = placeLampLanes(
    bars.map(({ programme, event }) => ({ ...programme!, isOnAir: event.view.state === 'air' })),
  );
  const upper = bars.filter((_, index) => lanes[index] === 0);
  // Names stand beside the bars of the first lane alone: under it are the hours.
  const names = placeLampNames(
    upper.map((bar) => bar.programme!),
    ruler,
  );
  const nowHour = hourOfDay(nowMs, zone);
  return (
    <div className="flex h-[62px] items-stretch gap-[22px] px-5 pt-[7px] max-md:hidden">
      <Link to="/" aria-label={FRAME_TEXT.heliphonToTheWeek} className="flex items-center">
        <Wordmark />
      </Link>
      <nav aria-label={FRAME_TEXT.today} className="relative flex-1 border-b border-edge">
        <Ticks ruler={ruler} />
        {nowHour >= ruler.fromHour && nowHour <= ruler.toHour && (
          <span
            aria-hidden="true"
            className="absolute inset-y-0 w-0.5 bg-ink"
            style={{ left: at(nowHour, ruler) }}
          >
            <span className="absolute -top-0.5 -left-[3px] size-2 rounded-full bg-ink" />
          </span>
        )}
        {bars.map((bar, index) => {
          const lane = lanes[index];
          if (lane == null) return null;
          return (
            <Lamp
              key={bar.event.id}
              bar={bar}
              ruler={ruler}
              lane={lane}
              place={names[upper.indexOf(bar)] ?? null}
            />
          );
        })}
      </nav>
      <div className="flex items-center gap-2 text-[13px]">
        <span className="figures text-xl font-semibold">{timeOfDay(nowMs, zone)}</span>
        <span className="text-ink-soft">{shortDay(nowMs, zone)}</span>
      </div>
    </div>
  );
}

const at = (hour: number, ruler: Ruler): string =>
  `${((hour - ruler.fromHour) / (ruler.toHour - ruler.fromHour)) * 100}%`;

function Ticks({ ruler }: { ruler: Ruler }) {
  const halves = Array.from(
    { length: (ruler.toHour - ruler.fromHour) * 2 + 1 },
    (_, index) => ruler.fromHour + index / 2,
  );
  return (
    <span aria-hidden="true">
      {halves.map((hour) => (
        <span key={hour}>
          <span
            className={`absolute bottom-0 w-px bg-edge ${hour % 3 === 0 ? 'h-[13px]' : hour % 1 === 0 ? 'h-[7px]' : 'h-1'}`}
            style={{ left: at(hour, ruler) }}
          />
          {hour % 3 === 0 && hour < ruler.toHour && (
            <span
              className="figures absolute bottom-1 pl-[5px] text-[13px] text-ink-soft"
              style={{ left: at(hour, ruler) }}
            >
              {String(hour).padStart(2, '0')}
            </span>
          )}
        </span>
      ))}
    </span>
  );
}

const LOOK: Readonly<Record<EventView['state'], string>> = {
  planned: 'border-pine bg-pine-wash text-pine',
  doors: 'border-pine bg-pine-wash text-pine',
  air: 'border-marigold-text bg-marigold text-on-marigold border-2',
  kept: 'border-edge bg-surface text-ink-soft',
  cancelled: 'border-edge text-ink-soft',
};

interface LampProps {
  readonly bar: RotaBar<ReturnType<typeof rotaEvent>>;
  readonly ruler: Ruler;
  readonly lane: number;
  readonly place: LampName | null;
}

function Lamp({ bar, ruler, lane, place }: LampProps) {
  const { view } = bar.event;
  const faults = useProgrammeNow(view.id)?.faults.length ?? 0;
  const { fromHour, toHour } = bar.programme!;
  const toDo = view.openChecks > 0 ? FRAME_TEXT.toDo(view.openChecks) : null;
  const wrong = view.state === 'air' && faults > 0 ? FRAME_TEXT.faults(faults) : null;
  const words = [view.title, STATE_WORDS[view.state], wrong, toDo].filter(Boolean).join(', ');
  const name = (
    <span className={view.state === 'air' ? 'font-bold' : ''}>
      {view.title}
      {wrong && <b className={place?.side === 'inside' ? '' : 'text-rust'}> · {wrong}</b>}
      {toDo && <b className={view.state === 'air' ? '' : 'text-plum'}> · {toDo}</b>}
    </span>
  );
  return (
    <Link
      to={view.state === 'air' || view.state === 'doors' ? `/events/${view.id}/air` : `/events/${view.id}`}
      aria-label={words}
      title={words}
      className={`absolute ${lane === 0 ? 'top-1' : 'top-[29px]'} flex h-6 min-w-6 items-center justify-center gap-2 rounded-[5px] border-[1.5px] text-sm ${LOOK[view.state]}`}
      style={{ left: at(fromHour, ruler), width: `calc(${at(toHour, ruler)} - ${at(fromHour, ruler)})` }}
    >
      <Mark name={wrong ? 'trouble' : view.state} inherit />
      {place?.side === 'inside' && <span className="truncate">{name}</span>}
      {place && place.side !== 'inside' && (
        <span
          className={`absolute truncate text-ink ${place.side === 'after' ? 'left-[calc(100%+6px)]' : 'right-[calc(100%+6px)]'}`}
          style={{
            maxWidth: `calc((100vw - 340px) * ${place.hours / (ruler.toHour - ruler.fromHour)})`,
          }}
        >
          {name}
        </span>
      )}
    </Link>
  );
}
