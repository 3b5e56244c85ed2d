import { useCallback } from 'react';
import { Link, useParams } from 'react-router';
import { PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import { CameraPanel } from '../../camera/CameraPanel.js';
import { useCamera } from '../../camera/useCamera.js';
import { openSendToken, useSources } from '../../data/sources.js';
import { useUpcoming } from '../../data/events.js';
import { useProgrammeNow } from '../../data/live.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { problemSentence } from '../../words/problems.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

const USUAL = PICTURE_SIZES.find(({ name }) => name === '720p30')!;

/** Sends the camera, the microphone or the screen of this very device to a source. */
export function CameraPage() {
  const { id = '' } = useParams();
  const { data, error, mutate } = useSources();
  const source = data?.items.find((candidate) => candidate.id === id);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what={SOURCES_TEXT.theSource} />;
  if (source?.kind !== 'device') {
    return (
      <div className="p-5">
        <Empty
          action={
            <Link className={buttonClass('main')} to="/sources">
              {SOURCES_TEXT.lookAtTheSources}
            </Link>
          }
        >
          {SOURCES_TEXT.thereIsNoSourceHere}
        </Empty>
      </div>
    );
  }
  return <Sending key={id} sourceId={id} name={source.name} size={source.advice?.size ?? USUAL} />;
}

function Sending({ sourceId, name, size }: { sourceId: string; name: string; size: typeof USUAL }) {
  const askToken = useCallback(() => openSendToken(sourceId), [sourceId]);
  const camera = useCamera(askToken, size);
  const { data: events } = useUpcoming(sourceId);
  const onAir = events?.items.find(({ state }) => state === 'air');
  const programme = useProgrammeNow(onAir?.id ?? null);
  return (
    <div className="mx-auto grid max-w-3xl gap-4 px-5 pt-4 pb-8">
      <div>
        <h1 className="text-[27px]">{name}</h1>
        <p className="text-ink-soft">
          {SOURCES_TEXT.fromThisDevice}{' '}
          {onAir ? SOURCES_TEXT.isOnAirWithThis(onAir.title) : SOURCES_TEXT.noEventIsOnAir}
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
            {SOURCES_TEXT.watchAsAViewer}
          </a>
        </p>
      )}
    </div>
  );
}
