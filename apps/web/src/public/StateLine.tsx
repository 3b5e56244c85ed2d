import type { PublicEvent } from '@heliphon/contracts/public-event';
import { Mark } from '../ui/Mark.js';
import { longDay, timeOfDay } from '@heliphon/contracts/time-words';
import { WATCH_TEXT } from '../words/public/watch.js';

/** State and title above the picture, with the viewer's own time. */
export function StateLine({ event }: { event: PublicEvent }) {
  return (
    <div className="mb-2.5 flex flex-wrap items-center gap-x-3 gap-y-1 px-4 pt-3 md:px-0 md:pt-0">
      {event.state === 'air' && (
        <span className="flex items-center gap-2 rounded-md bg-[var(--house)] py-1 pr-3 pl-2 font-semibold text-[var(--house-ink)]">
          <span className="text-[var(--house-warm)]">
            <Mark name="air" inherit />
          </span>
          {event.isRehearsal ? WATCH_TEXT.rehearsalInPrivate : WATCH_TEXT.onAirNow}
        </span>
      )}
      <h1 className="w-full text-2xl md:w-auto md:text-[1.8125rem]">{event.title}</h1>
      <span className="text-[#4b4a44]">{whenWords(event)}</span>
    </div>
  );
}

function whenWords({ state, startsAtMs, endsAtMs, airAtMs }: PublicEvent): string {
  if (state === 'air') return `until ${timeOfDay(endsAtMs)}`;
  if (state === 'kept') return WATCH_TEXT.replayOf(longDay(airAtMs ?? startsAtMs));
  return `${longDay(startsAtMs)}, ${timeOfDay(startsAtMs)} to ${timeOfDay(endsAtMs)}`;
}
