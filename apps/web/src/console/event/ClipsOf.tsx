import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import type { RecordingView } from '@heliphon/contracts/house';
import { duration } from '@heliphon/contracts/time-words';
import { useClips } from '../../data/clips.js';
import { useRecordingFiles } from '../../data/recordings.js';
import { buttonClass } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { InsteadOfRows } from '../../ui/states.js';
import { CLIP_TEXT } from '../../words/console/clips.js';

/** What was saved of an event while it ran: each with its page, its address and its file. */
export function ClipsOf({ event }: { event: EventView }) {
  const { data, error, mutate } = useClips(event.id);
  const clips = data?.items ?? [];
  return (
    <section aria-label={CLIP_TEXT.clips}>
      <h2 className="text-[19px]">{CLIP_TEXT.clips}</h2>
      <ul>
        {clips.length === 0 ? (
          <InsteadOfRows
            error={error}
            onRetry={() => void mutate()}
            isLoading={!data}
            what={CLIP_TEXT.clips}
            empty={CLIP_TEXT.noClips}
          />
        ) : (
          clips.map((clip) => <ClipRow key={clip.id} clip={clip} />)
        )}
      </ul>
      {clips.length > 0 && (
        <Link to="/archive" className="text-pine underline underline-offset-2">
          {CLIP_TEXT.renameIt}
        </Link>
      )}
    </section>
  );
}

function ClipRow({ clip }: { clip: RecordingView }) {
  const isMade = clip.durationMs > 0;
  const { data: files } = useRecordingFiles(isMade ? clip.id : null);
  const page = `/watch/${clip.slug}`;
  return (
    <li className="grid gap-2 border-b border-line py-3 last:border-b-0">
      <p className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <span className="min-w-48 flex-1">
          <b>{clip.title}</b>{' '}
          <span className="text-ink-soft">{isMade ? duration(clip.durationMs) : CLIP_TEXT.beingMade}</span>
        </span>
        {isMade && (
          <a className={buttonClass()} href={page} target="_blank" rel="noreferrer">
            {CLIP_TEXT.openItsPage}
          </a>
        )}
        {files && (
          <a className={buttonClass()} href={files.mp4} download>
            {CLIP_TEXT.download}
          </a>
        )}
      </p>
      {isMade && (
        <CopyField
          label={CLIP_TEXT.addressOfItsPage}
          value={location.origin + page}
          what={CLIP_TEXT.theAddressOf(clip.title)}
        />
      )}
    </li>
  );
}
