import { Entity } from 'typeorm';
import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import { Id, Instant, Reference, Text } from '../platform/columns.js';

/** What viewers of an event have from an instant on. */
@Entity('viewers_have')
export class ViewersHaveEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Instant() atMs: number;
  @Text(12) kind: ViewersHave['kind'];
  /** The source or file that it comes from. */
  @Reference({ nullable: true }) subjectId: string | null;
}
