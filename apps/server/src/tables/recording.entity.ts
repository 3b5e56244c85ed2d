import { Entity } from 'typeorm';
import type { ClipRange } from '@heliphon/core/packaging/clip-range';
import {
  Big,
  Count,
  Flag,
  Id,
  Instant,
  Json,
  LongText,
  Reference,
  Text,
  Version,
} from '../platform/columns.js';

@Entity('recordings')
export class RecordingEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  /** All of an event (one row at most), or a clip of it. */
  @Text(10, { default: 'whole' }) kind: 'whole' | 'clip';
  /** By which its media node knows it; that of its event, where it is all of it. */
  @Reference() programmeId: string;
  /** Where it is found; `null`: at its event's address. */
  @Text(100, { nullable: true }) slug: string | null;
  /** What a clip is cut from. */
  @Json({ nullable: true }) madeFrom: ClipRange | null;
  @Instant() airAtMs: number;
  /** 0 for a clip that is still to be made. */
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
