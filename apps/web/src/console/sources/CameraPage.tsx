import { useCallback } from 'react';
import { Link, useParams } from 'react-router';
import { PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import { CameraPanel } from '../../camera/CameraPanel.js';
import { useCamera } from '../../camera/useCamera.js';
import { openLine } from '../../data/commands.js';
import { useSources, useUpcoming } from '../../data/house.js';
import { useProgrammeNow } from '../../data/live.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { problemSentence } from '../../words/problems.js';

const USUAL = PICTURE_SIZES.find(({ name }) => name === '720p30')!;

/** Sends the camera, the microphone or the screen of this very device to a source. */
export function CameraPage() {
  const { id = '' } = useParams();
  const { data, error, mutate } = useSources();
  const source = data?.items.find((candidate) => candidate.id === id);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what="the source" />;
  if (source?.kind !== 'device') {
    return (
      <div className="p-5">
        <Empty
          action={
            <Link className={buttonClass('main')} to="/sources">
              Look at the sources
            </Link>
          }
        >
          There is no source here that a camera could send to.
        </Empty>
      </div>
    );
  }
  return <Sending key={id} sourceId={id} name={source.name} size={source.advice?.size ?? USUAL} />;
}

function Sending({ sourceId, name, size }: { sourceId: string; name: string; size: typeof USUAL }) {
  const askLine = useCallback(() => openLine(sourceId), [sourceId]);
  const camera = useCamera(askLine, size);
  const { data: events } = useUpcoming(sourceId);
  const onAir = events?.items.find(({ state }) => state === 'air');
  const programme = useProgrammeNow(onAir?.id ?? null);
  return (
    <div className="mx-auto grid max-w-3xl gap-4 px-5 pt-4 pb-8">
      <div>
        <h1 className="text-[27px]">{name}</h1>
        <p className="text-ink-soft">
          From the camera, the microphone or the screen of this device.
          {onAir
            ? ` “${onAir.title}” is on air with this source.`
            : ' No event on this source is on air now.'}
        </p>
      </div>
      <CameraPanel
        camera={camera}
        isShown={Boolean(onAir && programme?.signal.present)}
        fault={camera.error === null ? null : problemSentence(camera.error)}
      />
      {onAir && (
        <p>
          <a className="underline" href={`/watch/${onAir.slug}`} target="_blank" rel="noreferrer">
            See it as viewers do
          </a>
        </p>
      )}
    </div>
  );
}
