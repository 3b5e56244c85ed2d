import { Entity } from 'typeorm';
import type { OrderItem } from '@heliphon/core/order/order-sheet';
import { Id, Instant, Json, Reference, Text, Version } from '../platform/columns.js';

/** The order sheet of one event, or of all dates of a series. */
@Entity('order_sheets')
export class OrderSheetEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference({ nullable: true }) eventId: string | null;
  @Reference({ nullable: true }) seriesId: string | null;
  @Json() items: OrderItem[];
  @Version() version: number;
}

/** The desk moved a sheet on. */
@Entity('order_marks')
export class OrderMarkEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Instant() atMs: number;
  @Text(12, { nullable: true }) itemId: string | null;
}
