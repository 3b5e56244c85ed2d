import { Entity } from 'typeorm';
import type { FaultDetail, FaultKind } from '@heliphon/core/faults/fault';
import { Big, Count, Id, Instant, Json, Reference, Text } from '../platform/columns.js';

/** One thing that was wrong with an event on air. */
@Entity('faults')
export class FaultEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Text(20) kind: FaultKind;
  @Text(64) subjectId: string;
  @Json() detail: FaultDetail;
  @Instant() fromAtMs: number;
  @Instant({ nullable: true }) toAtMs: number | null;
  @Count() slateMs: number;
  @Count() nothingMs: number;
  @Count() pictureMs: number;
  @Count() soundMs: number;
  @Big() viewerMs: number;
  /** When the people on duty were written to. */
  @Instant({ nullable: true }) toldAtMs: number | null;
}
