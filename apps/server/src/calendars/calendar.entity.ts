import { Entity } from 'typeorm';
import { Id, Instant, LongText, Text } from '../platform/columns.js';

export type CalendarKind = 'house' | 'duties';

/** The private address under which one person's calendar program follows one house. */
@Entity('calendars')
export class CalendarEntity {
  @Id() personId: string;
  @Id() houseId: string;
  /** What it shows: all the house plans, or one's own duties. */
  @Text(10, { primary: true }) kind: CalendarKind;
  @Text(64) secretSha256Hex: string;
  @LongText() sealedSecret: string;
  @Instant() createdAtMs: number;
}
