import { useCallback, useEffect, useRef, useState } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { ApiError, ask } from '../data/api.js';
import type { PublicSocket } from '../data/push.js';
import { embeddingSite } from '../player/counted-address.js';
import { admissionHeaders, takeUpInvitation } from './admissions.js';
import { whenIdle } from './when-idle.js';

/** Pages renew their playback address so long before its end. */
const RENEW_BEFORE_MS = 10 * 60_000;
/** Where push does not come through, asking now and then still finds out. */
const ASK_EVERY_MS = 15_000;
/** Right after a planned change of state the page asks by itself. */
const AFTER_DUE_MS = 700;

/** Embeds say on which website they stand, where that is known. */
const site = embeddingSite();
const AT = site === null ? '' : `?on=${encodeURIComponent(site)}`;

export type EventView =
  | { readonly status: 'loading' }
  | { readonly status: 'missing' }
  | { readonly status: 'offline' }
  | {
      readonly status: 'here';
      readonly event: PublicEvent;
      /** What the server's clock is ahead of this one's. */
      readonly clockOffsetMs: number;
      readonly isStale: boolean;
    };

export interface Presence {
  readonly watching: number;
  readonly here: number;
}

export interface FollowedEvent {
  readonly view: EventView;
  readonly presence: Presence | null;
  readonly socket: PublicSocket | null;
  readonly isConnected: boolean;
  /** Asks again, for instance when the playback address was refused. */
  readonly refresh: () => void;
}

/** Follows an event by its address: state now, and every change within a second. */
export function useEvent(slug: string): FollowedEvent {
  const [view, setView] = useState<EventView>({ status: 'loading' });
  const [presence, setPresence] = useState<Presence | null>(null);
  const [socket, setSocket] = useState<PublicSocket | null>(null);
  const [isConnected, setConnected] = useState(false);
  const latest = useRef(0);
  const latestPass = useRef<string | null>(null);

  const refresh = useCallback(() => {
    latest.current += 1;
    const turn = latest.current;
    void ask<PublicEvent>(`/api/public/events/${encodeURIComponent(slug)}${AT}`, {
      headers: admissionHeaders(),
    }).then(
      (event) => {
        if (turn !== latest.current) return;
        setView({ status: 'here', event, clockOffsetMs: event.serverNowMs - Date.now(), isStale: false });
      },
      (error: unknown) => {
        if (turn !== latest.current) return;
        const isMissing = error instanceof ApiError && error.status === 404;
        setView((known) => {
          if (isMissing) return { status: 'missing' };
          return known.status === 'here' ? { ...known, isStale: true } : { status: 'offline' };
        });
      },
    );
  }, [slug]);

  const isAnswered = view.status !== 'loading';
  useEffect(() => {
    if (!isAnswered) return;
    let made: PublicSocket | null = null;
    // The page stands before the push begins: its library comes when there is nothing more urgent.
    const cancel = whenIdle(() => {
      void import('../data/push.js').then(({ connectPublic }) => {
        if (isOver) return;
        const socket = connectPublic();
        made = socket;
        socket.on('connect', () => {
          setConnected(true);
          // Only once hints come: what changes before that is in the answer, what changes after it is told.
          socket.emit('follow', slug, refresh, latestPass.current);
        });
        socket.on('disconnect', () => setConnected(false));
        socket.on('hint', refresh);
        socket.on('presence', setPresence);
        setSocket(socket);
      });
    });
    let isOver = false;
    return () => {
      isOver = true;
      cancel();
      made?.close();
    };
  }, [slug, refresh, isAnswered]);

  useEffect(() => {
    void takeUpInvitation(slug).then(refresh);
    const timer = window.setInterval(refresh, ASK_EVERY_MS);
    return () => window.clearInterval(timer);
  }, [slug, refresh]);

  const eventId = view.status === 'here' ? view.event.chat.eventId : null;
  const pass = view.status === 'here' ? view.event.pass : null;
  latestPass.current = pass;
  useEffect(() => {
    // The address of a series shows another event in time: its presence and chat are followed from then on. A pass is
    // soon over, and the next one shown.
    if (socket?.connected && eventId) socket.emit('follow', slug, null, pass);
  }, [socket, slug, eventId, pass]);

  const dueMs = view.status === 'here' ? nextDueMs(view.event) : null;
  const offsetMs = view.status === 'here' ? view.clockOffsetMs : 0;
  useEffect(() => {
    if (dueMs === null) return;
    const waitMs = dueMs - (Date.now() + offsetMs) + AFTER_DUE_MS;
    if (waitMs < 0 || waitMs > 2 ** 31 - 1) return;
    const timer = window.setTimeout(refresh, waitMs);
    return () => window.clearTimeout(timer);
  }, [dueMs, offsetMs, refresh]);

  return { view, presence, socket, isConnected, refresh };
}

/** When the event will have changed by itself. */
function nextDueMs(event: PublicEvent): number | null {
  if (event.state === 'planned') return event.doorsAtMs;
  if (event.state === 'doors') return event.beginsAtMs;
  return event.playback ? event.playback.expiresAtMs - RENEW_BEFORE_MS : null;
}
