import { Entity } from 'typeorm';
import type { OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { OwnLook } from '@heliphon/core/appearance/look';
import { Id, Json, LongText, Reference, Text, Version } from '../platform/columns.js';

@Entity('channels')
export class ChannelEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(60) name: string;
  @Text(100) slug: string;
  @LongText() description: string;
  /** What is said of its look here; `null` for nothing. */
  @Json({ nullable: true }) look: OwnLook | null;
  /** What is said here of who may watch; `null` for nothing. */
  @Json({ nullable: true }) watching: OwnWatchRules | null;
  @Version() version: number;
}
