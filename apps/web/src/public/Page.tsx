import { type ReactNode, useEffect } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { type FollowedEvent, useEvent } from './useEvent.js';
import { wearLook } from './house-look.js';
import { NotShown } from './NotShown.js';
import { WATCH_TEXT } from '../words/public/watch.js';

/** `/watch/SLUG` or `/embed/SLUG`. */
const slug = decodeURIComponent(location.pathname.split('/')[2] ?? '');

interface PageProps {
  readonly children: (event: PublicEvent, clockOffsetMs: number, followed: FollowedEvent) => ReactNode;
}

/** What watch page and embed begin with: the event of this address, or what is the matter. */
export function Page({ children }: PageProps) {
  const followed = useEvent(slug);
  const { view } = followed;
  const event = view.status === 'here' ? view.event : null;
  useEffect(() => {
    if (!event) return;
    document.title = `${event.title} · ${event.house.name}`;
    wearLook(event.house);
  }, [event]);

  if (view.status !== 'here') return <NotShown status={view.status} what={WATCH_TEXT.event} />;
  return children(view.event, view.clockOffsetMs, followed);
}
