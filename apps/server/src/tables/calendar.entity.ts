import { Entity } from 'typeorm';
import { Id, Instant, LongText, Text } from '../platform/columns.js';

export type CalendarKind = 'house' | 'duties' | 'channel';

/** The private address under which one person's calendar program follows one house. */
@Entity('calendars')
export class CalendarEntity {
  @Id() personId: string;
  @Id() houseId: string;
  /** What it shows: all the house plans, one channel of it, or one's own duties. */
  @Text(10, { primary: true }) kind: CalendarKind;
  /** Which channel; empty for the others. */
  @Text(36, { primary: true }) about: string;
  @Text(64) secretSha256Hex: string;
  @LongText() sealedSecret: string;
  @Instant() createdAtMs: number;
}
