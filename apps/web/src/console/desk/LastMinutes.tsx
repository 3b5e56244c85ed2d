import type { Check } from '@heliphon/core/readiness/readiness';
import { LAST_MINUTES_MS, lastMinuteChecks } from '@heliphon/core/readiness/open-checks';
import { CHECK_WORDS } from '@heliphon/contracts/check-words';
import type { EventView } from '@heliphon/contracts/events';
import { clock } from '@heliphon/contracts/time-words';
import { useReadiness } from '../../data/events.js';
import { useServerNow } from '../../data/server-clock.js';
import { Mark } from '../../ui/Mark.js';
import { Sentence } from '../../ui/Sentence.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { CHECK_MARKS } from '../event/check-remedies.js';
import { CheckRemedy } from '../event/CheckRemedy.js';

/** The last ten minutes before the picture begins: what is open and can still be put right, computed every few seconds. */
export function LastMinutes({ event }: { event: EventView }) {
  const nowMs = useServerNow(1000);
  const { data: readiness } = useReadiness(event.id);
  const leftMs = event.startsAtMs - event.filmMs - nowMs;
  const isBefore = event.state === 'planned' || event.state === 'doors';
  if (!isBefore || leftMs > LAST_MINUTES_MS || !readiness) return null;
  const open = lastMinuteChecks(readiness.checks);
  return (
    <section
      aria-label={DESK_TEXT.theLastMinutes}
      className="mx-5 mb-2 rounded-md border border-plum bg-plum-wash px-3 py-2 max-lg:mx-4"
    >
      <h2 className="flex flex-wrap items-baseline gap-x-3 font-sans text-[17px] font-semibold">
        <span>
          <Sentence
            words={DESK_TEXT.toAirIn}
            time={<span className="figures">{clock(Math.max(0, leftMs))}</span>}
          />
        </span>
        <span role="status" className="text-[15px] font-normal">
          {open.length === 0 ? DESK_TEXT.nothingLeftToDo : DESK_TEXT.leftToDo(open.length)}
        </span>
      </h2>
      <ul>
        {open.map((check) => (
          <OpenCheck key={check.code} check={check} eventId={event.id} />
        ))}
      </ul>
    </section>
  );
}

function OpenCheck({ check, eventId }: { check: Check; eventId: string }) {
  const words = CHECK_WORDS[check.code];
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-line py-1.5">
      <Mark name={CHECK_MARKS[check.status as 'stops' | 'warns']} />
      <p className="min-w-0 flex-1 basis-64 leading-snug">
        <b className="font-semibold">{words.open(check.detail)}.</b>{' '}
        <span className="text-[15px]">{words.reason(check.detail)}</span>
      </p>
      <CheckRemedy check={check} eventId={eventId} kind="mend" />
    </li>
  );
}
