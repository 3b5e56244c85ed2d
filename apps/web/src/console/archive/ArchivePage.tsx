import { useState } from 'react';
import { Link } from 'react-router';
import type { RecordingView } from '@heliphon/contracts/house';
import { binRecording, deleteRecording, restoreRecording } from '../../data/commands.js';
import { useCan, useRecordings, useZone } from '../../data/house.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Mark } from '../../ui/Mark.js';
import { PartsNav } from '../../ui/PartsNav.js';
import { Empty, Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { sizeWords } from '../../words/sizes.js';
import { dayAndTime, duration, shortDay } from '@heliphon/contracts/time-words';
import { ARCHIVE_PARTS } from './archive-parts.js';
import { RecordingEditor } from './RecordingEditor.js';

/** What has been kept, newest first; and the bin, which gives back. */
export function ArchivePage() {
  const [isBin, setBin] = useState(false);
  const [pages, setPages] = useState<readonly (string | null)[]>([null]);
  const look = (bin: boolean): void => {
    setBin(bin);
    setPages([null]);
  };
  return (
    <div className="px-5 pt-4 pb-8">
      <div className="flex items-center gap-4">
        <h1 className="text-[27px]">{isBin ? 'The bin' : 'Archive'}</h1>
        {isBin && <p className="text-ink-soft">gives back for thirty days; a full disk empties it sooner</p>}
        <span className="flex-1" />
        <Button aria-pressed={isBin} onClick={() => look(!isBin)}>
          {isBin ? 'Back to the archive' : 'Look into the bin'}
        </Button>
      </div>
      <PartsNav label="Parts of the archive" parts={ARCHIVE_PARTS} />
      <ul>
        {pages.map((after, index) => (
          <ArchiveRows
            key={`${isBin} ${after ?? 'first'}`}
            isBin={isBin}
            after={after}
            isLast={index === pages.length - 1}
            onMore={(next) => setPages([...pages, next])}
          />
        ))}
      </ul>
    </div>
  );
}

interface ArchiveRowsProps {
  readonly isBin: boolean;
  readonly after: string | null;
  readonly isLast: boolean;
  readonly onMore: (next: string) => void;
}

function ArchiveRows({ isBin, after, isLast, onMore }: ArchiveRowsProps) {
  const { data, error, mutate } = useRecordings(isBin, after);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what="the archive" />;
  if (data.items.length === 0) {
    return (
      <Empty>
        {isBin
          ? 'The bin is empty.'
          : 'Nothing has been kept yet. Every event that had a picture stands here the moment it ends.'}
      </Empty>
    );
  }
  const { next } = data;
  return (
    <>
      {data.items.map((recording) =>
        isBin ? (
          <BinnedRow key={recording.id} recording={recording} />
        ) : (
          <RecordingRow key={recording.id} recording={recording} />
        ),
      )}
      {isLast && next && (
        <li className="py-4">
          <Button onClick={() => onMore(next)}>Show older ones</Button>
        </li>
      )}
    </>
  );
}

function Poster({ url }: { url: string | null }) {
  if (url)
    return <img src={url.replace('1280', '640')} alt="" className="h-[72px] w-32 rounded-md object-cover" />;
  return (
    <span className="grid h-[72px] w-32 place-items-center rounded-md border border-edge text-[13px] text-ink-soft">
      no poster
    </span>
  );
}

function Facts({ recording }: { recording: RecordingView }) {
  const zone = useZone();
  return (
    <p className="flex items-center gap-2 text-ink-soft">
      <Mark name="kept" />
      {dayAndTime(recording.airAtMs, zone)} · {duration(recording.durationMs)} ·{' '}
      {sizeWords(recording.sizeBytes)}
    </p>
  );
}

/** Parts that lie at an ingest point which is away. */
function Awaited({ places }: { places: readonly string[] }) {
  if (places.length === 0) return null;
  return (
    <p className="flex items-center gap-2 text-plum">
      <Mark name="caution" /> A part of it still lies at {places.join(' and ')}. It is put to the rest by
      itself.
    </p>
  );
}

function RecordingRow({ recording }: { recording: RecordingView }) {
  const zone = useZone();
  const canEdit = useCan('recordings.edit');
  const [isOpen, setOpen] = useState(false);
  const action = useAction();
  return (
    <li className="border-t border-line py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <Poster url={recording.posterUrl} />
        <div className="min-w-60 flex-1">
          <h2 className="text-[19px]">
            <Link to={`/events/${recording.eventId}/keep`} className="hover:underline">
              {recording.title}
            </Link>
          </h2>
          <Facts recording={recording} />
          <Awaited places={recording.awaitedFrom} />
        </div>
        <p className="text-[13px] text-ink-soft">kept until {shortDay(recording.keptUntilMs, zone)}</p>
        {canEdit && (
          <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Fold' : 'Change'}
          </Button>
        )}
        <a className={buttonClass()} href={`/watch/${recording.slug}`} target="_blank" rel="noreferrer">
          Watch the replay
        </a>
      </div>
      {isOpen && (
        <RecordingEditor
          recording={recording}
          onBin={() =>
            void action.run(async () => {
              await binRecording(recording.id);
              toldWithUndo(`“${recording.title}” lies in the bin. Nobody can watch it now.`, recording.id);
            })
          }
        />
      )}
      <Fault error={action.error} />
    </li>
  );
}

function BinnedRow({ recording }: { recording: RecordingView }) {
  const zone = useZone();
  const canEdit = useCan('recordings.edit');
  const action = useAction();
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-line py-3">
      <Poster url={recording.posterUrl} />
      <div className="min-w-60 flex-1">
        <h2 className="text-[19px]">{recording.title}</h2>
        <Facts recording={recording} />
      </div>
      <p className="text-[13px] text-ink-soft">
        let go on {recording.goneAtMs && shortDay(recording.goneAtMs, zone)}
      </p>
      {canEdit && (
        <>
          <Button kind="main" onClick={() => void action.run(() => restoreRecording(recording.id))}>
            Put it back
          </Button>
          <HoldButton
            className="border-rust text-rust"
            onHeld={() => void action.run(() => deleteRecording(recording.id))}
          >
            Delete for good: hold
          </HoldButton>
        </>
      )}
      <Fault error={action.error} />
    </li>
  );
}
