import type { EventView } from '@heliphon/contracts/events';
import { moveEvent, useDeskAddress } from '../../data/events.js';
import { useCan } from '../../data/session.js';
import { useSources } from '../../data/sources.js';
import { useProgrammeNow, useSourceNow } from '../../data/live.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed } from '../../ui/states.js';
import { Monitor } from '../desk/Monitor.js';
import { Rehearsal } from './Rehearsal.js';
import { SlatePreview } from './SlatePreview.js';
import { ReportTable } from '../sources/ReportTable.js';
import { SourcePicture } from '../sources/SourcePicture.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** The picture before anybody else sees it: a thumbnail until the doors, then the programme itself, privately. */
export function RehearseStage({ event }: { event: EventView }) {
  const { data: sources } = useSources();
  const source = sources?.items.find((candidate) => candidate.id === event.sourceId);
  const now = useSourceNow(event.sourceId);
  const canMove = useCan('events.move');
  if (event.state === 'planned') {
    return (
      <div className="grid gap-4">
        <h2 className="text-[19px]">{EVENT_TEXT.beforeTheDoors}</h2>
        <div className="grid gap-5 md:grid-cols-2">
          <SourcePicture now={now} name={source?.name ?? EVENT_TEXT.noSource} />
          <ReportTable now={now} />
        </div>
        <p className="text-ink-soft">{EVENT_TEXT.onceTheDoorsAreOpen}</p>
        {canMove && (
          <Button className="justify-self-start" onClick={() => void moveEvent(event, 'open-doors')}>
            {EVENT_TEXT.openTheDoorsNow}
          </Button>
        )}
        <SlatePreview event={event} />
        <Rehearsal event={event} />
      </div>
    );
  }
  if (event.state === 'kept' || event.state === 'cancelled')
    return <Empty>{EVENT_TEXT.thisEventIsOver}</Empty>;
  return <PrivatePicture event={event} />;
}

function PrivatePicture({ event }: { event: EventView }) {
  const { data: address, error, mutate } = useDeskAddress(event.id);
  const programme = useProgrammeNow(event.id);
  const now = useSourceNow(event.sourceId);
  return (
    <div className="grid gap-4">
      <h2 className="text-[19px]">
        {event.state === 'doors' ? EVENT_TEXT.onlyYouSeeThis : EVENT_TEXT.whatViewersSee}
      </h2>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {address && programme && programme.viewersHave !== 'nothing' ? (
        <Monitor
          source={{ kind: 'live', hls: address.hls }}
          title={event.title}
          isLit={event.state === 'air'}
          onDenied={() => void mutate()}
        />
      ) : (
        <div className="grid aspect-video place-items-center rounded-md border border-edge text-ink-soft">
          {EVENT_TEXT.noPictureIsComingIn}
        </div>
      )}
      <ReportTable now={now} />
    </div>
  );
}
