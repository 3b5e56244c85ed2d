import type { OrderItem, OrderMark } from '@heliphon/core/order/order-sheet';

/** The order sheet of a series, or of an event, with how the desk has moved it on. */
export interface OrderView {
  /** Of its own sheet; 0 while it has none. */
  readonly version: number;
  readonly items: readonly OrderItem[];
  /** An event without a sheet of its own shows its series'. */
  readonly isOfSeries: boolean;
  readonly marks: readonly OrderMark[];
}

export interface WriteOrder {
  readonly items: readonly OrderItem[];
}

/** Moves the sheet on to an item; `null`: by its times again. */
export interface MoveOrder {
  readonly itemId: string | null;
}

/** What viewers get of it. */
export interface PublicOrder extends Pick<OrderView, 'items' | 'marks'> {
  /** Notes of the desk that were made chapters, in order of time. */
  readonly chapters: readonly { readonly atMs: number; readonly title: string }[];
}
