import type { EventView } from '@heliphon/contracts/events';
import { planOf } from '@heliphon/core/schedule/event-life';
import { useZone } from '../../data/session.js';
import { duration, timeOfDay } from '@heliphon/contracts/time-words';
import { EVENT_TEXT } from '../../words/console/event.js';

/** Doors, the opening film, programme and possible overrun, drawn to scale; with `nowMs`, where we are in it. */
export function WhenBar({ event, nowMs }: { event: EventView; nowMs?: number }) {
  const zone = useZone();
  const plan = planOf(event);
  const wholeMs = plan.hardStopAtMs - plan.doorsAtMs;
  const at = (ms: number): string => `${((ms - plan.doorsAtMs) / wholeMs) * 100}%`;
  const pieces = [
    {
      name: 'doors',
      from: plan.doorsAtMs,
      to: plan.airAtMs,
      look: 'hatched rounded-l-[5px] border border-edge text-edge',
    },
    {
      name: 'film',
      from: plan.airAtMs,
      to: event.startsAtMs,
      look: 'border-2 border-r-0 border-pine bg-sunk',
    },
    {
      name: `programme, ${duration(plan.stopAtMs - event.startsAtMs)}`,
      from: event.startsAtMs,
      to: plan.stopAtMs,
      look:
        event.state === 'air'
          ? 'border-2 border-marigold-text bg-marigold-wash'
          : 'border-2 border-pine bg-pine-wash',
    },
    {
      name: EVENT_TEXT.mayRunOver,
      from: plan.stopAtMs,
      to: plan.hardStopAtMs,
      look: 'rounded-r-[5px] border border-l-0 border-dashed border-edge',
    },
  ].filter((piece) => piece.to > piece.from);
  return (
    <div
      className="relative h-[66px]"
      role="img"
      aria-label={pieces.map((p) => `${p.name} from ${timeOfDay(p.from, zone)}`).join(', ')}
    >
      {pieces.map((piece) => {
        const share = (piece.to - piece.from) / wholeMs;
        const width = `${share * 100}%`;
        return (
          <span key={piece.name} className="absolute top-0" style={{ left: at(piece.from), width }}>
            <span className="block h-5 overflow-visible text-center text-[13px] font-semibold whitespace-nowrap">
              {share > 0.1 ? piece.name : ''}
            </span>
            <span className={`block h-5 ${piece.look}`} />
            <span className="figures absolute top-[42px] left-0 text-[13px] whitespace-nowrap">
              {share > (piece.to === plan.hardStopAtMs ? 0.14 : 0.05) ? timeOfDay(piece.from, zone) : ''}
            </span>
          </span>
        );
      })}
      <span className="figures absolute top-[42px] right-0 text-[13px]">
        {timeOfDay(plan.hardStopAtMs, zone)}
      </span>
      {nowMs !== undefined && nowMs > plan.doorsAtMs && nowMs < plan.hardStopAtMs && (
        <span aria-hidden="true" className="absolute top-4 h-7 w-0.5 bg-ink" style={{ left: at(nowMs) }}>
          <span className="absolute -top-1 -left-[3px] size-2 rounded-full bg-ink" />
        </span>
      )}
    </div>
  );
}
