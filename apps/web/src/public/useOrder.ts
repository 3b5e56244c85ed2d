import { useEffect, useMemo, useState } from 'react';
import { type OrderChange, type OrderItem, orderChanges } from '@heliphon/core/order/order-sheet';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { ask } from '../data/api.js';
import { useNow } from './useNow.js';

const NONE: PublicOrder = { items: [], marks: [] };
const TRY_AGAIN_MS = 5000;

interface FollowedOrder {
  readonly items: readonly OrderItem[];
  /** What was present from when on, as far as the programme has come. */
  readonly changes: readonly OrderChange[];
  readonly titleOf: (itemId: string) => string;
}

/** Follows the order sheet of an event: asked for when it has changed, and moved on by the clock. */
export function useOrder(event: PublicEvent, clockOffsetMs: number): FollowedOrder {
  const [order, setOrder] = useState(NONE);
  const { slug, orderSeq, state, startsAtMs, airAtMs, endsAtMs } = event;
  useEffect(() => {
    if (orderSeq === null) return setOrder(NONE);
    let isOver = false;
    let timer = 0;
    const read = (): void => {
      ask<PublicOrder>(`/api/public/events/${encodeURIComponent(slug)}/order`).then(
        (found) => !isOver && setOrder(found),
        () => {
          if (!isOver) timer = window.setTimeout(read, TRY_AGAIN_MS);
        },
      );
    };
    read();
    return () => {
      isOver = true;
      window.clearTimeout(timer);
    };
  }, [slug, orderSeq]);
  const nowMs = useNow(clockOffsetMs);
  const toMs = state === 'air' ? nowMs : endsAtMs;
  const changes = useMemo(
    () => (airAtMs === null ? [] : orderChanges(order.items, order.marks, startsAtMs, airAtMs, toMs)),
    [order, startsAtMs, airAtMs, toMs],
  );
  return {
    items: order.items,
    changes,
    titleOf: (itemId) => order.items.find(({ id }) => id === itemId)?.title ?? '',
  };
}
