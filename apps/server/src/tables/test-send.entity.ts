import { Entity } from 'typeorm';
import type { TestSendResult } from '@heliphon/contracts/test-sends';
import { Id, Instant, Reference, Text } from '../platform/columns.js';

/** A place that a rehearsal is sent to for some seconds. */
@Entity('test_sends')
export class TestSendEntity {
  @Id() id: string;
  @Reference() houseId: string;
  /** The rehearsal. */
  @Reference() eventId: string;
  @Reference() destinationId: string;
  @Instant() beganAtMs: number;
  /** `null` while it is being tried. */
  @Text(20, { nullable: true }) result: TestSendResult | null;
}
