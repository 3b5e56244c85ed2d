import { Entity } from 'typeorm';
import { Id, Instant, Reference, Text } from '../platform/columns.js';

/** Who is in charge at the desk of an event. */
@Entity('desk_holders')
export class DeskHolderEntity {
  @Id() eventId: string;
  @Reference() houseId: string;
  @Reference() personId: string;
  @Text(120) name: string;
  @Instant() atMs: number;
}
