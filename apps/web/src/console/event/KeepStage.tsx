import type { EndCause } from '@heliphon/core/schedule/event-life';
import type { EventView } from '@heliphon/contracts/events';
import { usePublicEvent, useZone } from '../../data/house.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty } from '../../ui/states.js';
import { duration, timeOfDay } from '@heliphon/contracts/time-words';
import { Monitor } from '../desk/Monitor.js';

const CAUSES: Readonly<Record<EndCause, string>> = {
  'by-hand': 'It was ended by hand.',
  'stop-without-signal': 'It ended at its stop, since no picture was coming any more.',
  'overrun-used-up': 'It ended by itself when the time to run over was used up.',
  'dead-air': 'It ended by itself, since no picture had come for a while.',
};

/** The replay, at the same address as the live picture. */
export function KeepStage({ event }: { event: EventView }) {
  const zone = useZone();
  const { data, mutate } = usePublicEvent(event.state === 'kept' ? event.slug : null);
  if (event.state !== 'kept')
    return <Empty>The replay stands here, and on the same page, the moment the event ends.</Empty>;
  const { airAtMs, endAtMs, endCause } = event;
  return (
    <div className="grid max-w-4xl gap-4">
      <p>
        On air from {timeOfDay(airAtMs ?? 0, zone)} to {timeOfDay(endAtMs ?? 0, zone)},{' '}
        {duration((endAtMs ?? 0) - (airAtMs ?? 0))}. {endCause && CAUSES[endCause]}
      </p>
      {data?.playback && (
        <Monitor source={data.playback} title={event.title} isLit={false} onDenied={() => void mutate()} />
      )}
      {data && !data.playback && (
        <Empty>There is no replay: no picture came while it was on air. Its page says so.</Empty>
      )}
      <a
        className={`${buttonClass()} justify-self-start`}
        href={`/watch/${event.slug}`}
        target="_blank"
        rel="noreferrer"
      >
        Open its page
      </a>
    </div>
  );
}
