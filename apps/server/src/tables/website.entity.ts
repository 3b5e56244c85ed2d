import { Entity } from 'typeorm';
import type { ShownLevel, WebsiteFinding } from '@heliphon/contracts/websites';
import { Id, Instant, Json, Reference, Text } from '../platform/columns.js';

/** A website on which an event, a series or a channel stands, or should. */
@Entity('websites')
export class WebsiteEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(10) level: ShownLevel;
  @Reference() subjectId: string;
  @Text(255) host: string;
  /** The page that is looked at every night; `null` where only the embed has told of it. */
  @Text(1000, { nullable: true }) address: string | null;
  @Json({ nullable: true }) finding: WebsiteFinding | null;
  @Instant({ nullable: true }) checkedAtMs: number | null;
  /** Since when it does not show what it once did; `null` while it does. */
  @Instant({ nullable: true }) goneSinceMs: number | null;
  /** When people were told of that. */
  @Instant({ nullable: true }) toldGoneAtMs: number | null;
  /** When an embed was last opened there. */
  @Instant({ nullable: true }) seenAtMs: number | null;
}
