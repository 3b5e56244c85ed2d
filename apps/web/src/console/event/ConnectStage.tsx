import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { useCan, useSources } from '../../data/house.js';
import { useSourceNow } from '../../data/live.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty } from '../../ui/states.js';
import { KeySheet } from '../sources/KeySheet.js';
import { ReportTable } from '../sources/ReportTable.js';
import { SourcePicture } from '../sources/SourcePicture.js';

/** What has to be typed into the encoder, and what really arrives. */
export function ConnectStage({ event }: { event: EventView }) {
  const { data: sources } = useSources();
  const canSeeKeys = useCan('keys.read');
  const source = sources?.items.find((candidate) => candidate.id === event.sourceId);
  const now = useSourceNow(event.sourceId);
  if (!source) {
    return (
      <Empty
        action={
          <Link className={buttonClass('main')} to={`/events/${event.id}/plan`}>
            Choose a source
          </Link>
        }
      >
        No source is chosen for this event yet. A source is where the picture comes from: an encoder with its
        address and key.
      </Empty>
    );
  }
  return (
    <div className="grid gap-6 md:grid-cols-2">
      <div className="grid content-start gap-4">
        <h2 className="text-[19px]">Type this into the encoder of {source.name}</h2>
        {canSeeKeys ? (
          <KeySheet source={source} />
        ) : (
          <p className="text-ink-soft">Your role does not see keys. Ask an operator.</p>
        )}
        <p className="text-[13px] text-ink-soft">
          H.264 picture and AAC sound, constant bit rate, a keyframe every 2 seconds.
        </p>
      </div>
      <div className="grid content-start gap-3">
        <h2 className="text-[19px]">What arrives</h2>
        <SourcePicture now={now} name={source.name} />
        <ReportTable now={now} />
      </div>
    </div>
  );
}
