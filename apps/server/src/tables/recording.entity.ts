import { Entity } from 'typeorm';
import { Big, Count, Flag, Id, Instant, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('recordings')
export class RecordingEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Reference() programmeId: string;
  @Instant() airAtMs: number;
  @Count() durationMs: number;
  /** In which a slate stood: beside `durationMs`, not in it. */
  @Count({ default: 0 }) gapsMs: number;
  /** Whether the replay shows them. */
  @Flag({ default: false }) keepsGaps: boolean;
  @Big() sizeBytes: number;
  @Instant() keptUntilMs: number;
  /** Its own words and picture; `null`: those of its event. */
  @Text(120, { nullable: true }) title: string | null;
  @LongText({ nullable: true }) description: string | null;
  @Reference({ nullable: true }) posterId: string | null;
  @Instant({ nullable: true }) binnedAtMs: number | null;
  @Version() version: number;
}

/** A recording deleted for good that a node is still to take off its disk. */
@Entity('removals')
export class RemovalEntity {
  @Id() programmeId: string;
  @Text(60, { primary: true }) nodeId: string;
  @Reference() houseId: string;
  @Instant() atMs: number;
}
