import type { PublicEvent } from '@heliphon/contracts/public-event';
import { Mark } from '../ui/Mark.js';
import { dayFromTo, longDay, timeOfDay, withClockThere } from '../words/public-time.js';
import { say } from '../words/say.js';

/** State and title above the picture, with the viewer's own time. */
export function StateLine({ event }: { event: PublicEvent }) {
  return (
    <div className="mb-2.5 flex flex-wrap items-center gap-x-3 gap-y-1 px-4 pt-3 md:px-0 md:pt-0">
      {event.state === 'air' && (
        <span
          data-look="accent"
          className="flex items-center gap-2 rounded-md bg-[var(--house)] py-1 ps-2 pe-3 font-semibold text-[var(--house-ink)]"
        >
          <span className="text-[var(--mark)]">
            <Mark name="air" inherit />
          </span>
          {event.isRehearsal ? say('event.rehearsal') : say('event.onAir')}
        </span>
      )}
      <h1 dir="auto" className="w-full text-2xl md:w-auto md:text-[1.8125rem]">
        {event.title}
      </h1>
      <span className="text-ink-soft">{whenWords(event)}</span>
    </div>
  );
}

function whenWords({ state, startsAtMs, endsAtMs, airAtMs, clipOf, zone }: PublicEvent): string {
  if (clipOf) return longDay(startsAtMs);
  if (state === 'air')
    return withClockThere(say('time.until', { time: timeOfDay(endsAtMs) }), endsAtMs, zone);
  if (state === 'kept') return say('event.replayOf', { day: longDay(airAtMs ?? startsAtMs) });
  return withClockThere(dayFromTo(startsAtMs, endsAtMs), startsAtMs, zone);
}
