import { Fragment, type ReactNode, useEffect, useMemo, useState } from 'react';
import type { DeskView } from '@heliphon/contracts/events';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { ReadyForTryOut, TryOut, TryOutState } from '@heliphon/contracts/try-out';
import { ask } from '../data/api.js';
import { forceLight } from './light.js';
import { speak } from '../words/say.js';
import { tellWhatIsPressed } from './pressed-part.js';

const KINDS: readonly TryOut['type'][] = ['try-out', 'seen-as', 'spoken'];
const MINUTE_MS = 60_000;
const DAY_MS = 86_400_000;

interface TriedOutProps {
  readonly event: PublicEvent;
  readonly children: (event: PublicEvent) => ReactNode;
}

/** The event as the console wants to see it, which shows this page in a frame. */
export function TriedOut({ event, children }: TriedOutProps) {
  const tryOut = useTold();
  const asked = tryOut?.type === 'seen-as' ? tryOut.event : event;
  const liveEventId = asked.playback?.kind === 'live' ? asked.chat.eventId : null;
  const deskPlayback = useDeskPlayback(liveEventId);
  const shown = useMemo(() => {
    const playback = liveEventId ? deskPlayback && { ...asked.playback!, ...deskPlayback } : asked.playback;
    const shown = { ...asked, playback };
    if (!tryOut || tryOut.type === 'seen-as') return shown;
    const inIt = { ...shown, ...inState(tryOut.state, asked) };
    return tryOut.type === 'try-out' ? { ...inIt, look: tryOut.look } : inIt;
  }, [asked, tryOut, liveEventId, deskPlayback]);
  // Another language is said from the beginning.
  return <Fragment key={tryOut?.type === 'spoken' ? tryOut.language.tag : ''}>{children(shown)}</Fragment>;
}

/** What the console wants to see; `null` until it has said so. */
function useTold(): TryOut | null {
  const [tryOut, setTryOut] = useState<TryOut | null>(null);
  useEffect(() => {
    const heard = ({ data, origin, source }: MessageEvent<Partial<TryOut> | null>): void => {
      if (origin !== location.origin || source !== window.parent) return;
      if (!KINDS.some((kind) => kind === data?.type)) return;
      const told = data as TryOut;
      if (told.type === 'spoken') speak(told.language);
      if (told.type === 'try-out') forceLight(told.light);
      setTryOut(told);
    };
    window.addEventListener('message', heard);
    const ready: ReadyForTryOut = { type: 'ready-for-try-out' };
    window.parent.postMessage(ready, location.origin);
    const endTelling = tellWhatIsPressed();
    return () => {
      window.removeEventListener('message', heard);
      endTelling();
    };
  }, []);
  return tryOut;
}

/** The desk's own address of a programme: somebody who tries a look out is no viewer. */
function useDeskPlayback(eventId: string | null): DeskView | null {
  const [playback, setPlayback] = useState<DeskView | null>(null);
  useEffect(() => {
    if (!eventId) return;
    let isOver = false;
    // Refused, the poster stands: colours can be seen without a picture.
    ask<DeskView>(`/api/events/${eventId}/desk`).then(
      (found) => !isOver && setPlayback(found),
      () => undefined,
    );
    return () => {
      isOver = true;
    };
  }, [eventId]);
  return playback;
}

/** What is different in another state; there is no picture in it but the one that is there now. */
function inState(state: TryOutState, { serverNowMs }: PublicEvent): Partial<PublicEvent> {
  const at = (beginsAtMs: number, doorsAtMs: number) =>
    ({ startsAtMs: beginsAtMs, beginsAtMs, doorsAtMs, endsAtMs: beginsAtMs + 60 * MINUTE_MS }) as const;
  const none = { playback: null } as const;
  switch (state) {
    case 'now':
      return {};
    case 'before':
      return { state: 'planned', ...at(serverNowMs + 3 * DAY_MS, serverNowMs + 3 * DAY_MS), ...none };
    case 'doors':
      return {
        state: 'doors',
        ...at(serverNowMs + 12 * MINUTE_MS, serverNowMs - 18 * MINUTE_MS),
        ...none,
      };
    case 'air':
      return { state: 'air', ...at(serverNowMs - 5 * MINUTE_MS, serverNowMs - 35 * MINUTE_MS), ...none };
    case 'over':
      return { state: 'kept', ...none };
    case 'cancelled':
      return { state: 'cancelled', notice: null, ...none };
  }
}
