import { SettingColumns } from './setting-columns.js';
import { Entity } from 'typeorm';
import type { OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { OwnLook } from '@heliphon/core/appearance/look';
import { ChangedAt, Count, Id, Json, LongText, Reference, Text, Version } from '../platform/columns.js';

/** What repeats: when, and everything its dates take from it. */
@Entity('series')
export class SeriesEntity extends SettingColumns {
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
  /** In the words of RFC 5545. */
  @Text(300) rule: string;
  @Text(10) firstDate: string;
  @Text(5) timeOfDay: string;
  @Count() lengthMinutes: number;
  @Text(64) zone: string;
  @Reference({ nullable: true }) channelId: string | null;
  @Reference({ nullable: true }) sourceId: string | null;
  /** It can take over from the first. */
  @Reference({ nullable: true }) standbySourceId: string | null;
  /** The entry of a calendar file that it came from. */
  @Text(255, { nullable: true }) importUid: string | null;
  /** The last day whose events have come into being. */
  @Text(10) plannedUntil: string;
  @ChangedAt() changedAtMs: number;
  @Version() version: number;
}

@Entity('series_destinations')
export class SeriesDestinationEntity {
  @Id() houseId: string;
  @Id() seriesId: string;
  @Id() destinationId: string;
}

/** A day on which the series has no event. */
@Entity('series_skips')
export class SeriesSkipEntity {
  @Id() houseId: string;
  @Id() seriesId: string;
  @Text(10, { primary: true }) date: string;
}
