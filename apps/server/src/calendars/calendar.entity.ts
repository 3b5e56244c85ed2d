import { Entity } from 'typeorm';
import { Id, Instant, LongText, Text } from '../platform/columns.js';

/** The private address under which one person's calendar program follows one house. */
@Entity('calendars')
export class CalendarEntity {
  @Id() personId: string;
  @Id() houseId: string;
  @Text(64) secretSha256Hex: string;
  @LongText() sealedSecret: string;
  @Instant() createdAtMs: number;
}
