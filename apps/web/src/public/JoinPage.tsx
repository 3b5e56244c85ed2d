import { type ReactNode, useCallback, useEffect, useState } from 'react';
import type { GuestView } from '@heliphon/contracts/send-tokens';
import { dayAndTime } from '../words/public-time.js';
import { PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import { CameraPanel } from '../camera/CameraPanel.js';
import { useCamera } from '../camera/useCamera.js';
import { publicProblem } from '../words/public-problem.js';
import { applyLook } from './apply-look.js';
import { useLight } from './light.js';
import { Logo } from './Logo.js';
import { NotShown } from './NotShown.js';
import { useGuest } from './useGuest.js';
import { say } from '../words/say.js';

/** A picture that a telephone's line usually carries. */
const SIZE = PICTURE_SIZES.find(({ name }) => name === '720p30')!;

/** Where a guest lands: allow, look, send; no account and nothing to install. */
export function JoinPage({ link }: { link: string }) {
  const state = useGuest(link);
  const guest = state.status === 'here' ? state.guest : state.status === 'offline' ? state.last : null;
  const light = useLight(guest?.look);
  useEffect(() => {
    if (!guest) return;
    document.title = `${guest.event.title} · ${guest.house.name}`;
    applyLook(guest.look, light);
  }, [guest, light]);
  if (state.status === 'refused') {
    return (
      <main className="mx-auto max-w-[46ch] p-8 text-center" role="alert">
        <h1 className="mb-2 text-2xl">{say('join.linkNoLongerWorks')}</h1>
        <p>{publicProblem(state.error)}</p>
      </main>
    );
  }
  if (!guest) return <NotShown status={state.status === 'offline' ? 'offline' : 'loading'} />;
  if (state.status === 'loading') return null;
  return <Invited guest={guest} device={state.device} isStale={state.status === 'offline'} />;
}

function Invited({ guest, device, isStale }: { guest: GuestView; device: string; isStale: boolean }) {
  const { points, event, house, look, isShown } = guest;
  const askToken = useCallback(() => Promise.resolve({ points, token: device }), [points, device]);
  const camera = useCamera(askToken, SIZE);
  return (
    <main className="mx-auto max-w-[760px] border-t-[5px] border-[var(--house)] bg-[var(--paper)] px-4 py-5 md:my-[18px] md:px-8">
      <header className="mb-4 flex items-center gap-3">
        <Logo look={look} />
        <div>
          <h1 className="text-[1.625rem] leading-tight text-[var(--links)]">{event.title}</h1>
          <p className="text-base text-ink-soft">
            {house.name}, {dayAndTime(event.startsAtMs)}
          </p>
        </div>
      </header>
      <p className="mb-4">{say('join.invited', { guest: guest.name })}</p>
      {isStale && (
        <p role="status" className="mb-4 text-ink-soft">
          {say('join.stale')}
        </p>
      )}
      <CameraPanel
        camera={camera}
        isShown={isShown}
        fault={camera.error === null ? null : publicProblem(camera.error)}
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
    <section
      aria-label={say('join.asViewersSeeIt')}
      className="grid gap-2 border-t border-[var(--rule)] pt-2"
    >
      <button
        type="button"
        className="public-link justify-self-start"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        {isOpen ? say('join.hideIt') : say('join.showWhatViewersSee')}
      </button>
      {isOpen && (
        <iframe src={`/embed/${slug}`} title={say('join.whatViewersSee')} className="h-[420px] w-full" />
      )}
    </section>
  );
}
