import { Link } from 'react-router';
import type { EndCause } from '@heliphon/core/schedule/event-life';
import type { EventView } from '@heliphon/contracts/events';
import { usePublicEvent } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty } from '../../ui/states.js';
import { duration, timeOfDay } from '@heliphon/contracts/time-words';
import { ClipsOf } from './ClipsOf.js';
import { Monitor } from '../desk/Monitor.js';
import { EVENT_TEXT } from '../../words/console/event.js';
import { REPORT_TEXT } from '../../words/console/report.js';

const CAUSES: Readonly<Record<EndCause, string>> = {
  'by-hand': EVENT_TEXT.itWasEndedFromThe,
  'stop-without-signal': EVENT_TEXT.itEndedOnTimeAs,
  'overrun-used-up': EVENT_TEXT.itEndedByItselfWhen,
  'dead-air': EVENT_TEXT.itEndedByItselfAs,
};

/** The replay, at the same address as the live picture. */
export function KeepStage({ event }: { event: EventView }) {
  const zone = useZone();
  const { data, mutate } = usePublicEvent(event.state === 'kept' ? event.slug : null);
  if (event.state !== 'kept')
    return (
      <div className="grid max-w-4xl gap-4">
        <Empty>{EVENT_TEXT.theReplayAppearsHereAnd}</Empty>
        {event.state === 'air' && <ClipsOf event={event} />}
      </div>
    );
  const { airAtMs, endAtMs, endCause } = event;
  return (
    <div className="grid max-w-4xl gap-4">
      <p>
        {EVENT_TEXT.onAirFromTo(
          timeOfDay(airAtMs ?? 0, zone),
          timeOfDay(endAtMs ?? 0, zone),
          duration((endAtMs ?? 0) - (airAtMs ?? 0)),
        )}{' '}
        {endCause && CAUSES[endCause]}
      </p>
      {data?.playback && (
        <Monitor source={data.playback} title={event.title} isLit={false} onDenied={() => void mutate()} />
      )}
      {data && !data.playback && <Empty>{EVENT_TEXT.thereIsNoReplayAs}</Empty>}
      <p className="flex flex-wrap gap-3">
        <Link className={buttonClass('main')} to={`/events/${event.id}/report`}>
          {REPORT_TEXT.readTheReport}
        </Link>
        <a className={buttonClass()} href={`/watch/${event.slug}`} target="_blank" rel="noreferrer">
          {EVENT_TEXT.openItsPage}
        </a>
      </p>
      <ClipsOf event={event} />
    </div>
  );
}
