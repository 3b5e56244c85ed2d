import type { EventView } from '@heliphon/contracts/events';
import { moveEvent } from '../../data/commands.js';
import { useCan, useDeskAddress, useSources } from '../../data/house.js';
import { useProgrammeNow, useSourceNow } from '../../data/live.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed } from '../../ui/states.js';
import { Monitor } from '../desk/Monitor.js';
import { Rehearsal } from './Rehearsal.js';
import { ReportTable } from '../sources/ReportTable.js';
import { SourcePicture } from '../sources/SourcePicture.js';

/** The picture before anybody else sees it: a thumbnail until the doors, then the programme itself, privately. */
export function RehearseStage({ event }: { event: EventView }) {
  const { data: sources } = useSources();
  const source = sources?.items.find((candidate) => candidate.id === event.sourceId);
  const now = useSourceNow(event.sourceId);
  const canMove = useCan('events.move');
  if (event.state === 'planned') {
    return (
      <div className="grid gap-4">
        <h2 className="text-[19px]">Before the doors</h2>
        <div className="grid gap-5 md:grid-cols-2">
          <SourcePicture now={now} name={source?.name ?? 'No source'} />
          <ReportTable now={now} />
        </div>
        <p className="text-ink-soft">
          From the doors on you see the programme here as viewers will get it, while they see the countdown.
        </p>
        {canMove && (
          <Button className="justify-self-start" onClick={() => void moveEvent(event, 'open-doors')}>
            Open the doors now
          </Button>
        )}
        <Rehearsal event={event} />
      </div>
    );
  }
  if (event.state === 'kept' || event.state === 'cancelled') return <Empty>This event is over.</Empty>;
  return <PrivatePicture event={event} />;
}

function PrivatePicture({ event }: { event: EventView }) {
  const { data: address, error, mutate } = useDeskAddress(event.id);
  const programme = useProgrammeNow(event.id);
  const now = useSourceNow(event.sourceId);
  return (
    <div className="grid gap-4">
      <h2 className="text-[19px]">
        {event.state === 'doors' ? 'Only you see this; the public sees the countdown' : 'What viewers have'}
      </h2>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {address && programme?.signal.present ? (
        <Monitor
          source={{ kind: 'live', hls: address.hls }}
          title={event.title}
          isLit={event.state === 'air'}
          onDenied={() => void mutate()}
        />
      ) : (
        <div className="grid aspect-video place-items-center rounded-md border border-edge text-ink-soft">
          No picture is coming in yet
        </div>
      )}
      <ReportTable now={now} />
    </div>
  );
}
