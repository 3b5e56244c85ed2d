import { Entity } from 'typeorm';
import { Flag, Id, Instant, Reference, Text, Version } from '../platform/columns.js';

/** What somebody at the desk noted of an event, with its time. */
@Entity('notes')
export class NoteEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Instant() atMs: number;
  @Text(120) text: string;
  @Text(100) byName: string;
  /** It is a chapter of the replay as well. */
  @Flag({ default: 0 }) isChapter: boolean;
  @Version() version: number;
}
