import { lazy, type ReactNode, Suspense, useEffect } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { embeddingSite } from '../player/counted-address.js';
import { type FollowedEvent, useEvent } from './useEvent.js';
import { applyLook } from './apply-look.js';
import { useLight } from './light.js';
import { NotShown } from './NotShown.js';

/** `/watch/SLUG` or `/embed/SLUG`. */
const slug = decodeURIComponent(location.pathname.split('/')[2] ?? '');
/** In a frame of our own console, where nobody is a viewer: to try looks out, and embeds. */
const isTriedOut = window.parent !== window && embeddingSite() === null;

/** Viewers never need it. */
const TriedOut = lazy(() => import('./TriedOut.js').then((module) => ({ default: module.TriedOut })));

interface PageProps {
  readonly children: (event: PublicEvent, clockOffsetMs: number, followed: FollowedEvent) => ReactNode;
}

/** What watch page and embed begin with: the event of this address, or what is the matter. */
export function Page({ children }: PageProps) {
  const followed = useEvent(slug);
  const { view } = followed;
  if (view.status !== 'here') return <NotShown status={view.status} />;
  const shown = (event: PublicEvent): ReactNode => (
    <Shown event={event}>{children(event, view.clockOffsetMs, followed)}</Shown>
  );
  if (!isTriedOut) return shown(view.event);
  return (
    <Suspense>
      <TriedOut event={view.event}>{shown}</TriedOut>
    </Suspense>
  );
}

/** An event by its name and in its look. */
function Shown({ event, children }: { event: PublicEvent; children: ReactNode }) {
  const light = useLight(event.look);
  useEffect(() => {
    document.title = `${event.title} · ${event.house.name}`;
    applyLook(event.look, light);
  }, [event, light]);
  return children;
}
