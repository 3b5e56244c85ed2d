import { Link } from 'react-router';
import { hoursAndMinutes, timeOfDay } from '@heliphon/contracts/time-words';
import { useProgrammeNow } from '../../data/live.js';
import { useZone } from '../../data/session.js';
import { Mark, STATE_WORDS } from '../../ui/Mark.js';
import { useToday } from './useToday.js';
import { FRAME_TEXT } from '../../words/console/frame.js';

/** What is on, or comes next today, in one line: the strip of a narrow screen. */
export function OnNow() {
  const zone = useZone();
  const { nowMs, events, onAir } = useToday();
  const next = events.find(
    (event) => !event.isDraft && event.stopsAtMs > nowMs && ['planned', 'doors'].includes(event.state),
  );
  const event = onAir ?? next;
  const faults = useProgrammeNow(onAir?.id ?? null)?.faults.length ?? 0;
  if (!event) return <p className="min-w-0 flex-1 truncate text-ink-soft">{FRAME_TEXT.nothingMoreToday}</p>;
  const isNow = event.state === 'air' || event.state === 'doors';
  const stands = (): string => {
    if (faults > 0) return FRAME_TEXT.faults(faults);
    if (event.state === 'air') return FRAME_TEXT.onAirFor(hoursAndMinutes(nowMs - (event.airAtMs ?? nowMs)));
    return isNow ? STATE_WORDS[event.state] : timeOfDay(event.startsAtMs, zone);
  };
  return (
    <Link
      to={isNow ? `/events/${event.id}/air` : `/events/${event.id}`}
      className={`flex min-h-11 min-w-0 flex-1 items-center gap-2 rounded-md px-2.5 ${event.state === 'air' ? 'bg-marigold font-bold text-on-marigold' : ''}`}
    >
      <Mark name={faults > 0 ? 'trouble' : event.state} inherit />
      <span className="truncate">{event.title}</span>
      <span className="ml-auto shrink-0 text-[13px]">{stands()}</span>
    </Link>
  );
}
