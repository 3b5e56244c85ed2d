import { Entity } from 'typeorm';
import type { Answer, Duty } from '@heliphon/core/duties/duties';
import { Count, Flag, Id, Instant, Text } from '../platform/columns.js';

/** Somebody who was asked for a duty at an event; one a duty has not said no. */
@Entity('event_duties')
export class EventDutyEntity {
  @Id() houseId: string;
  @Id() eventId: string;
  @Text(10, { primary: true }) duty: Duty;
  @Id() personId: string;
  @Text(3, { nullable: true }) answer: Answer | null;
  @Text(200) note: string;
}

/** One of those who take turns at a duty of a series. */
@Entity('series_duties')
export class SeriesDutyEntity {
  @Id() houseId: string;
  @Id() seriesId: string;
  @Text(10, { primary: true }) duty: Duty;
  @Id() personId: string;
  @Count() turn: number;
}

/** What somebody was last told of a duty; compared with how it is. */
@Entity('told_duties')
export class ToldDutyEntity {
  @Id() houseId: string;
  @Id() eventId: string;
  @Text(10, { primary: true }) duty: Duty;
  @Id() personId: string;
  @Text(120) title: string;
  @Instant() startsAtMs: number;
  @Flag() isOff: boolean;
}
