import { type ReactNode, useCallback, useEffect, useState } from 'react';
import type { GuestView } from '@heliphon/contracts/send-tokens';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import { CameraPanel } from '../camera/CameraPanel.js';
import { useCamera } from '../camera/useCamera.js';
import { problemSentence } from '../words/problems.js';
import { logoSource, wearLook } from './house-look.js';
import { NotShown } from './NotShown.js';
import { useGuest } from './useGuest.js';
import { Sentence } from '../ui/Sentence.js';
import { JOIN_TEXT } from '../words/public/join.js';

/** A picture that a telephone's line usually carries. */
const SIZE = PICTURE_SIZES.find(({ name }) => name === '720p30')!;

/** Where a guest lands: allow, look, send; no account and nothing to install. */
export function JoinPage({ link }: { link: string }) {
  const state = useGuest(link);
  const guest = state.status === 'here' ? state.guest : state.status === 'offline' ? state.last : null;
  useEffect(() => {
    if (!guest) return;
    document.title = `${guest.event.title} · ${guest.house.name}`;
    wearLook(guest.house);
  }, [guest]);
  if (state.status === 'refused') {
    return (
      <main className="mx-auto max-w-[46ch] p-8 text-center" role="alert">
        <h1 className="mb-2 text-2xl">{JOIN_TEXT.thisLinkNoLongerWorks}</h1>
        <p>{problemSentence(state.error)}</p>
      </main>
    );
  }
  if (!guest)
    return (
      <NotShown status={state.status === 'offline' ? 'offline' : 'loading'} what={JOIN_TEXT.invitation} />
    );
  if (state.status === 'loading') return null;
  return <Invited guest={guest} device={state.device} isStale={state.status === 'offline'} />;
}

function Invited({ guest, device, isStale }: { guest: GuestView; device: string; isStale: boolean }) {
  const { points, event, house, isShown } = guest;
  const askToken = useCallback(() => Promise.resolve({ points, token: device }), [points, device]);
  const camera = useCamera(askToken, SIZE);
  return (
    <main className="mx-auto max-w-[760px] border-t-[5px] border-[var(--house)] bg-[var(--paper)] px-4 py-5 md:my-[18px] md:px-8">
      <header className="mb-4 flex items-center gap-3">
        {house.logoSvg && <img src={logoSource(house.logoSvg)} alt="" width={44} height={44} />}
        <div>
          <h1 className="text-[1.625rem] leading-tight text-[var(--house)]">{event.title}</h1>
          <p className="text-base text-[#55534c]">
            {house.name}, {dayAndTime(event.startsAtMs)}
          </p>
        </div>
      </header>
      <p className="mb-4">
        <Sentence words={JOIN_TEXT.youHaveBeenInvited} guest={<b>{guest.name}</b>} />
      </p>
      {isStale && (
        <p role="status" className="mb-4 text-[#55534c]">
          {JOIN_TEXT.weCannotBeReachedAt}
        </p>
      )}
      <CameraPanel
        camera={camera}
        isShown={isShown}
        fault={camera.error === null ? null : problemSentence(camera.error)}
      >
        <AsViewersSeeIt slug={event.slug} isOnAir={event.state === 'air'} />
      </CameraPanel>
    </main>
  );
}

/** The embed of the event, on demand: it costs the line that the picture goes out by. */
function AsViewersSeeIt({ slug, isOnAir }: { slug: string; isOnAir: boolean }): ReactNode {
  const [isOpen, setOpen] = useState(false);
  if (!isOnAir) return null;
  return (
    <section aria-label={JOIN_TEXT.asViewersSeeIt} className="grid gap-2 border-t border-[var(--rule)] pt-2">
      <button
        type="button"
        className="public-link justify-self-start"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        {isOpen ? JOIN_TEXT.hideIt : JOIN_TEXT.showWhatViewersSee}
      </button>
      {isOpen && (
        <iframe src={`/embed/${slug}`} title={JOIN_TEXT.whatViewersSee} className="h-[420px] w-full" />
      )}
    </section>
  );
}
