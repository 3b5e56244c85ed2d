import { Entity } from 'typeorm';
import { Big, Count, Id, Text } from '../platform/columns.js';

/** How many watched an event somewhere. */
@Entity('event_viewers')
export class EventViewersEntity {
  @Id() houseId: string;
  @Id() eventId: string;
  /** `page`, `site HOST`, `elsewhere`, or `place ID`. */
  @Text(120, { primary: true }) place: string;
  @Count() most: number;
  @Big() viewerMs: number;
}
