import { Column, Entity } from 'typeorm';
import type { WebhookKind } from '@heliphon/contracts/webhooks';
import { Big, Count, Id, Instant, LongText, Reference, Text } from '../platform/columns.js';

/** The address of a house that is told what happens. */
@Entity('webhooks')
export class WebhookEntity {
  @Id() houseId: string;
  @Text(500) address: string;
  @Text(200) sealedSecret: string;
  /** The last happening from before it was set. */
  @Big() beginsAfter: number;
  /** The last happening that was looked at. */
  @Big() lookedUntil: number;
}

/** One thing that it is to be told, or was. */
@Entity('webhook_deliveries')
export class WebhookDeliveryEntity {
  @Id() id: string;
  @Reference() houseId: string;
  /** What is told; `null` for a try by hand. */
  @Column({ type: 'bigint', nullable: true }) happeningId: string | null;
  @Text(20) kind: WebhookKind;
  @LongText() body: string;
  @Count() attempts: number;
  /** `null` once it is delivered, or given up. */
  @Instant({ nullable: true }) nextTryAtMs: number | null;
  @Instant({ nullable: true }) deliveredAtMs: number | null;
  /** What came of the last try. */
  @Text(40, { nullable: true }) answer: string | null;
  @Instant() createdAtMs: number;
}
