import { useState } from 'react';
import { Link } from 'react-router';
import type { RecordingView } from '@heliphon/contracts/house';
import { binRecording, deleteRecording, restoreRecording, useRecordings } from '../../data/recordings.js';
import { useCan, useZone } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Mark } from '../../ui/Mark.js';
import { PartsNav } from '../../ui/PartsNav.js';
import { Fault, InsteadOfRows } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { sizeWords } from '../../words/sizes.js';
import { dayAndTime, duration, shortDay } from '@heliphon/contracts/time-words';
import { ARCHIVE_PARTS } from './archive-parts.js';
import { RecordingEditor } from './RecordingEditor.js';
import { CLIP_TEXT } from '../../words/console/clips.js';
import { ARCHIVE_TEXT } from '../../words/console/archive.js';

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
        <h1 className="text-[27px]">{isBin ? ARCHIVE_TEXT.theBin : 'Archive'}</h1>
        {isBin && <p className="text-ink-soft">{ARCHIVE_TEXT.thingsCanBePutBack}</p>}
        <span className="flex-1" />
        <Button aria-pressed={isBin} onClick={() => look(!isBin)}>
          {isBin ? ARCHIVE_TEXT.backToTheArchive : ARCHIVE_TEXT.openTheBin}
        </Button>
      </div>
      <PartsNav label={ARCHIVE_TEXT.partsOfTheArchive} parts={ARCHIVE_PARTS} />
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
  if (error || !data || data.items.length === 0)
    return (
      <InsteadOfRows
        error={error}
        onRetry={() => void mutate()}
        isLoading={!data}
        what={ARCHIVE_TEXT.theArchive}
        empty={isBin ? ARCHIVE_TEXT.theBinIsEmpty : ARCHIVE_TEXT.noRecordingsYetEveryEvent}
      />
    );
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
          <Button onClick={() => onMore(next)}>{ARCHIVE_TEXT.showOlderOnes}</Button>
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
      {ARCHIVE_TEXT.noPoster}
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
      <Mark name="caution" /> {ARCHIVE_TEXT.partIsStillAt(places.join(' and '))}
    </p>
  );
}

function RecordingRow({ recording }: { recording: RecordingView }) {
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
            </Link>{' '}
            {recording.kind === 'clip' && (
              <span className="rounded-md border border-edge px-1.5 font-sans text-[13px] text-ink-soft">
                {CLIP_TEXT.clip}
              </span>
            )}
          </h2>
          <Facts recording={recording} />
          <Awaited places={recording.awaitedFrom} />
        </div>
        {canEdit && (
          <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Close' : 'Change'}
          </Button>
        )}
        <a className={buttonClass()} href={`/watch/${recording.slug}`} target="_blank" rel="noreferrer">
          {recording.kind === 'clip' ? CLIP_TEXT.openItsPage : ARCHIVE_TEXT.watchTheReplay}
        </a>
      </div>
      {isOpen && (
        <RecordingEditor
          recording={recording}
          onBin={() =>
            void action.run(async () => {
              await binRecording(recording.id);
              toldWithUndo(ARCHIVE_TEXT.isInTheBinNobody(recording.title), recording.id);
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
        {recording.goneAtMs !== null && ARCHIVE_TEXT.deletedForGoodOn(shortDay(recording.goneAtMs, zone))}
      </p>
      {canEdit && (
        <>
          <Button kind="main" onClick={() => void action.run(() => restoreRecording(recording.id))}>
            {ARCHIVE_TEXT.putItBack}
          </Button>
          <HoldButton
            className="border-rust text-rust"
            onHeld={() => void action.run(() => deleteRecording(recording.id))}
          >
            {ARCHIVE_TEXT.deleteForGoodHold}
          </HoldButton>
        </>
      )}
      <Fault error={action.error} />
    </li>
  );
}
