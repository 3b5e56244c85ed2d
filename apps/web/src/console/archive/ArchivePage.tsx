import { useState } from 'react';
import { Link } from 'react-router';
import type { RecordingView } from '@heliphon/contracts/house';
import { useRecordings, useZone } from '../../data/house.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { dayAndTime, duration, shortDay } from '../../words/times.js';

const GIGABYTE = 1e9;

/** What has been kept, newest first. */
export function ArchivePage() {
  const [pages, setPages] = useState<readonly (string | null)[]>([null]);
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="mb-4 text-[27px]">Archive</h1>
      <ul>
        {pages.map((after, index) => (
          <ArchiveRows
            key={after ?? 'first'}
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
  readonly after: string | null;
  readonly isLast: boolean;
  readonly onMore: (next: string) => void;
}

function ArchiveRows({ after, isLast, onMore }: ArchiveRowsProps) {
  const { data, error, mutate } = useRecordings(after);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what="the archive" />;
  if (data.items.length === 0) {
    return (
      <Empty>Nothing has been kept yet. Every event that had a picture stands here the moment it ends.</Empty>
    );
  }
  const { next } = data;
  return (
    <>
      {data.items.map((recording) => (
        <RecordingRow key={recording.id} recording={recording} />
      ))}
      {isLast && next && (
        <li className="py-4">
          <Button onClick={() => onMore(next)}>Show older ones</Button>
        </li>
      )}
    </>
  );
}

function RecordingRow({ recording }: { recording: RecordingView }) {
  const zone = useZone();
  return (
    <li className="flex items-center gap-4 border-t border-line py-3">
      {recording.posterUrl ? (
        <img
          src={recording.posterUrl.replace('1280', '640')}
          alt=""
          className="h-[72px] w-32 rounded-md object-cover"
        />
      ) : (
        <span className="grid h-[72px] w-32 place-items-center rounded-md border border-edge text-[13px] text-ink-soft">
          no poster
        </span>
      )}
      <div className="min-w-0 flex-1">
        <h2 className="text-[19px]">
          <Link to={`/events/${recording.eventId}/keep`} className="hover:underline">
            {recording.title}
          </Link>
        </h2>
        <p className="flex items-center gap-2 text-ink-soft">
          <Mark name="kept" />
          {dayAndTime(recording.airAtMs, zone)} · {duration(recording.durationMs)} ·{' '}
          {(recording.sizeBytes / GIGABYTE).toFixed(2)} GB
        </p>
      </div>
      <p className="text-[13px] text-ink-soft">kept until {shortDay(recording.keptUntilMs, zone)}</p>
      <a className={buttonClass()} href={`/watch/${recording.slug}`} target="_blank" rel="noreferrer">
        Watch the replay
      </a>
    </li>
  );
}
