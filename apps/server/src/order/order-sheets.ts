import type { OrderItem } from '@heliphon/core/order/order-sheet';
import type { EventEntity } from '../tables/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { OrderSheetEntity } from '../tables/order.entity.js';

/** Whose sheet it is. */
export type SheetOf = { readonly eventId: string } | { readonly seriesId: string };

/** The sheet that an event shows: its own, else its series'. */
export async function sheetOf(
  scope: HouseScope,
  { id, seriesId }: Pick<EventEntity, 'id' | 'seriesId'>,
): Promise<OrderSheetEntity | null> {
  const own = await scope.findOne(OrderSheetEntity, { eventId: id });
  return own ?? (seriesId ? scope.findOne(OrderSheetEntity, { seriesId }) : null);
}

/** Writes a sheet; one without items is none. @returns what was there before */
export async function writeSheet(
  scope: HouseScope,
  of: SheetOf,
  items: readonly OrderItem[],
): Promise<readonly OrderItem[]> {
  const row = await scope.findOne(OrderSheetEntity, of);
  const before = row?.items ?? [];
  if (row) await scope.save(Object.assign(row, { items: [...items] }));
  else await scope.add(OrderSheetEntity, { id: newId(), ...of, items: [...items] });
  return before;
}

/** What an event showed when it went on air is its own from then on, whatever its series says later. */
export async function keepSheet(scope: HouseScope, event: EventEntity): Promise<void> {
  const sheet = await sheetOf(scope, event);
  if (sheet?.seriesId) await writeSheet(scope, { eventId: event.id }, sheet.items);
}
