import { Link } from 'react-router';
import { timeOfDay } from '@heliphon/contracts/time-words';
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
  if (!event) return <p className="min-w-0 flex-1 truncate text-ink-soft">{FRAME_TEXT.nothingMoreToday}</p>;
  const isNow = event.state === 'air' || event.state === 'doors';
  return (
    <Link
      to={isNow ? `/events/${event.id}/air` : `/events/${event.id}`}
      className={`flex min-h-11 min-w-0 flex-1 items-center gap-2 rounded-md px-2.5 ${event.state === 'air' ? 'bg-marigold font-bold text-on-marigold' : ''}`}
    >
      <Mark name={event.state} inherit />
      <span className="truncate">{event.title}</span>
      <span className="ml-auto shrink-0 text-[13px]">
        {isNow ? STATE_WORDS[event.state] : timeOfDay(event.startsAtMs, zone)}
      </span>
    </Link>
  );
}
