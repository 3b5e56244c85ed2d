import { clockAt } from '@heliphon/core/order/order-text';
import { orderChanges } from '@heliphon/core/order/order-sheet';
import { localOf } from '@heliphon/core/schedule/civil-time';
import type { EventView } from '@heliphon/contracts/events';
import { moveOrder, useOrder } from '../../data/order.js';
import { useCan } from '../../data/session.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { useKey } from '../../ui/useKey.js';
import { DESK_TEXT } from '../../words/console/desk.js';

/** Which item of the order people see, and the way on to the next: by its time, or by a press of `O`. */
export function DeskOrder({ event }: { event: EventView }) {
  const { data } = useOrder(`/api/events/${event.id}/order`);
  const nowMs = useServerNow(1000);
  const canMove = useCan('events.move') && event.state === 'air';
  const action = useAction();
  const items = data?.items ?? [];
  const marks = data?.marks ?? [];
  const changes = event.airAtMs ? orderChanges(items, marks, event.startsAtMs, event.airAtMs, nowMs) : [];
  const at = items.findIndex(({ id }) => id === changes.at(-1)?.itemId);
  const next = items[at + 1];
  const before = items[at - 1];
  const isByHand = (marks.at(-1)?.itemId ?? null) !== null;
  const go = (itemId: string | null): void => void action.run(() => moveOrder(event.id, itemId));
  const nextId = canMove ? next?.id : undefined;
  useKey('o', nextId ? () => go(nextId) : null);
  if (items.length === 0) return null;
  const startsAt = localOf(event.startsAtMs, event.zone).slice(11);
  const due = next?.atMinutes == null ? '' : clockAt(next.atMinutes, startsAt);
  return (
    <section aria-label={DESK_TEXT.orderSheet} className="shrink-0 border-t border-line py-2">
      <div className="flex items-baseline gap-2">
        <h2 className="text-[17px]">{DESK_TEXT.order}</h2>
        <p className="min-w-0 truncate" role="status">
          <b>{items[at]?.title ?? DESK_TEXT.notBegun}</b>
        </p>
        <span className="shrink-0 text-[13px] text-ink-soft">
          {isByHand ? DESK_TEXT.movedByTheDesk : DESK_TEXT.byItsTimes}
        </span>
      </div>
      {canMove && (
        <div className="mt-1 flex gap-1">
          {next && (
            <Button
              className="min-w-0"
              disabled={action.isBusy}
              aria-keyshortcuts="o"
              onClick={() => go(next.id)}
            >
              <span className="truncate">{DESK_TEXT.onTo(next.title)}</span>
              <span className="figures font-normal">{due}</span>
            </Button>
          )}
          {before && (
            <Button kind="quiet" disabled={action.isBusy} onClick={() => go(before.id)}>
              {DESK_TEXT.backOne}
            </Button>
          )}
          {isByHand && (
            <Button kind="quiet" disabled={action.isBusy} onClick={() => go(null)}>
              {DESK_TEXT.byItsTimes2}
            </Button>
          )}
        </div>
      )}
      <Fault error={action.error} isSmall />
    </section>
  );
}
