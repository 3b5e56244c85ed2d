import { type ReactNode, useEffect } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { type FollowedEvent, useEvent } from './useEvent.js';
import { wearLook } from './house-look.js';
import { Told } from './Told.js';

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

  switch (view.status) {
    case 'loading':
      return (
        <div
          role="status"
          aria-label="Loading the event"
          className="mx-auto aspect-video max-w-[846px] animate-pulse bg-[var(--rule)]"
        />
      );
    case 'missing':
      return (
        <Told title="There is nothing at this address.">
          It may have been mistyped, or the event was taken away.
        </Told>
      );
    case 'offline':
      return (
        <Told title="We cannot be reached just now.">This page keeps trying and goes on by itself.</Told>
      );
    case 'here':
      return children(view.event, view.clockOffsetMs, followed);
  }
}
