import type { EmbedExtra } from '@heliphon/core/delivery/embed-code';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { ChatDrawer } from './ChatDrawer.js';
import { OrderItems } from './OrderItems.js';
import { OrderSheet } from './OrderSheet.js';
import type { FollowedEvent } from './useEvent.js';
import type { FollowedOrder } from './useOrder.js';

interface EmbedExtrasProps {
  readonly event: PublicEvent;
  readonly followed: FollowedEvent;
  readonly order: FollowedOrder;
  readonly extras: readonly EmbedExtra[];
  /** The instant that is seen. */
  readonly dateMs: number;
  readonly onGoTo: ((dateMs: number) => void) | null;
}

/** Sheet and chat under the picture of an embed. */
export function EmbedExtras({ event, followed, order, extras, dateMs, onGoTo }: EmbedExtrasProps) {
  const hasSheet = extras.includes('sheet');
  const chat = extras.includes('chat') && event.chat.state !== 'off' && (
    <ChatDrawer event={event} followed={followed} />
  );
  if (!hasSheet) return <div className="bg-[var(--paper)]">{chat}</div>;
  return (
    <OrderSheet
      event={event}
      order={
        order.items.length > 0 ? (
          <OrderItems
            key={event.chat.eventId}
            event={event}
            items={order.items}
            changes={order.changes}
            dateMs={dateMs}
            onGoTo={onGoTo}
          />
        ) : null
      }
    >
      {chat}
    </OrderSheet>
  );
}
