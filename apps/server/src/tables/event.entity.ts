import { SettingColumns } from './setting-columns.js';
import { Entity } from 'typeorm';
import type { OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { OwnLook } from '@heliphon/core/appearance/look';
import type { WholeLoudness } from '@heliphon/core/loudness/loudness-tally';
import type { CommandKind, EndCause, EventState } from '@heliphon/core/schedule/event-life';
import type { SeriesField } from '@heliphon/core/schedule/series-plan';
import {
  ChangedAt,
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

@Entity('events')
export class EventEntity extends SettingColumns {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(120) title: string;
  @LongText() description: string;
  @Text(100) slug: string;
  @Reference({ nullable: true }) posterId: string | null;
  /** What is said of its look here; `null` for nothing. */
  @Json({ nullable: true }) look: OwnLook | null;
  /** What is said here of who may watch; `null` for nothing. */
  @Json({ nullable: true }) watching: OwnWatchRules | null;
  @Reference({ nullable: true }) filmId: string | null;
  @Count({ default: 0 }) filmMs: number;
  /** The desk has passed over it. */
  @Flag({ default: 0 }) filmSkipped: boolean;
  @Instant() startsAtMs: number;
  @Instant() stopsAtMs: number;
  /** Planned instant of the doors, kept beside the minutes so that the clock finds what is due by an index. */
  @Instant() doorsDueAtMs: number;
  /** Stop and overrun. */
  @Instant() hardStopAtMs: number;
  @Text(64) zone: string;
  @Reference({ nullable: true }) channelId: string | null;
  @Reference({ nullable: true }) sourceId: string | null;
  /** It can take over from the first. */
  @Reference({ nullable: true }) standbySourceId: string | null;
  /** The desk has chosen the second source over the first. */
  @Flag({ default: 0 }) prefersStandby: boolean;
  @Text(10) state: EventState;
  @Reference() programmeId: string;
  @Instant({ nullable: true }) doorsAtMs: number | null;
  @Instant({ nullable: true }) airAtMs: number | null;
  @Instant({ nullable: true }) endAtMs: number | null;
  @Text(30, { nullable: true }) endCause: EndCause | null;
  /** What viewers are told when it was cancelled. */
  @Text(300, { nullable: true }) notice: string | null;
  @Reference({ nullable: true }) lastCommandId: string | null;
  @Text(12, { nullable: true }) lastCommandKind: CommandKind | null;
  @Instant({ nullable: true }) lastCommandAtMs: number | null;
  @Instant() grantsValidFromMs: number;
  @Reference({ nullable: true }) seriesId: string | null;
  /** The day by the series' rule; the event may have been moved since. */
  @Text(10, { nullable: true }) seriesDate: string | null;
  /** What this date changed by itself: the series leaves it alone. */
  @Json({ default: '[]' }) ownFields: SeriesField[];
  /** The entry of a calendar file that it came from. */
  @Text(255, { nullable: true }) importUid: string | null;
  /** A private rehearsal of this event; it is in no plan. */
  @Reference({ nullable: true }) rehearsalOf: string | null;
  /** Only its planners see it, and nothing moves by the clock. */
  @Flag({ default: 0 }) isDraft: boolean;
  /** The media node that it runs at, or ran at last; `null` before its doors. */
  @Text(60, { nullable: true }) nodeId: string | null;
  /** Counts the nodes it has been at. */
  @Count({ default: 0 }) leg: number;
  /** When the node that it left last was heard for the last time. */
  @Instant({ nullable: true }) lastHeardAtMs: number | null;
  /** Of the whole of it, once it is over; `null` where nobody listened. */
  @Json({ nullable: true }) loudness: WholeLoudness | null;
  /** When the people on duty were sent its signal report. */
  @Instant({ nullable: true }) reportedAtMs: number | null;
  @ChangedAt() changedAtMs: number;
  @Version() version: number;
}

@Entity('event_destinations')
export class EventDestinationEntity {
  @Id() houseId: string;
  @Id() eventId: string;
  @Id() destinationId: string;
  /** Left out for now, while the others go on. */
  @Flag() paused: boolean;
  /** The smaller picture that it gets, by its name; `null`: the original. */
  @Text(5, { nullable: true }) rendition: string | null;
}
