import { useEffect, useMemo, useRef, useState } from 'react';
import { type OrderChange, type OrderItem, orderChanges } from '@heliphon/core/order/order-sheet';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { PlayerChapter } from '../player/player-state.js';
import { ask } from '../data/api.js';
import { passHeaders } from './admissions.js';
import { useNow } from './useNow.js';

const NONE: PublicOrder = { items: [], marks: [], chapters: [] };
const TRY_AGAIN_MS = 5000;

export interface FollowedOrder {
  readonly items: readonly OrderItem[];
  /** What was present from when on, as far as the programme has come. */
  readonly changes: readonly OrderChange[];
  /** There is none, or it has come. */
  readonly isRead: boolean;
  /** Where its items began, and what the desk marked, in order of time. */
  readonly chapters: readonly PlayerChapter[];
}

const NOTHING = () => Promise.resolve();

/**
 * Follows the order sheet of an event: asked for when it has changed, and moved on by the clock.
 * @param alongside - what has to have come as well before it shows; the same function each time
 */
export function useOrder(
  event: PublicEvent,
  clockOffsetMs: number,
  alongside: () => Promise<unknown> = NOTHING,
): FollowedOrder {
  const [order, setOrder] = useState(NONE);
  const [isRead, setRead] = useState(event.orderSeq === null);
  const { slug, pass, orderSeq, state, startsAtMs, airAtMs, endsAtMs } = event;
  const latestPass = useRef(pass);
  latestPass.current = pass;
  useEffect(() => {
    if (orderSeq === null) {
      setRead(true);
      return setOrder(NONE);
    }
    let isOver = false;
    let timer = 0;
    const read = (): void => {
      const asked = ask<PublicOrder>(`/api/public/events/${encodeURIComponent(slug)}/order`, {
        headers: passHeaders(latestPass.current),
      });
      Promise.all([asked, alongside()])
        .then(([found]) => !isOver && setOrder(found))
        .catch(() => {
          if (!isOver) timer = window.setTimeout(read, TRY_AGAIN_MS);
        })
        .finally(() => !isOver && setRead(true));
    };
    read();
    return () => {
      isOver = true;
      window.clearTimeout(timer);
    };
  }, [slug, orderSeq, alongside]);
  const nowMs = useNow(clockOffsetMs);
  const toMs = state === 'air' ? nowMs : endsAtMs;
  const changes = useMemo(
    () => (airAtMs === null ? [] : orderChanges(order.items, order.marks, startsAtMs, airAtMs, toMs)),
    [order, startsAtMs, airAtMs, toMs],
  );
  const chapters = useMemo(() => {
    const titleOf = (itemId: string): string => order.items.find(({ id }) => id === itemId)?.title ?? '';
    const ofItems = changes.map(({ atMs, itemId }) => ({ atMs, title: titleOf(itemId) }));
    const ofDesk = order.chapters.filter(({ atMs }) => airAtMs !== null && atMs >= airAtMs && atMs <= toMs);
    return [...ofItems, ...ofDesk].sort((one, other) => one.atMs - other.atMs);
  }, [order, changes, airAtMs, toMs]);
  return { items: order.items, changes, chapters, isRead };
}
