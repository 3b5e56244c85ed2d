import { Entity } from 'typeorm';
import { Big, Flag, Id, Instant, LongText, Reference, Text } from '../platform/columns.js';

/** Counts what is said and changed in one event's chat. */
@Entity('chat_rooms')
export class ChatRoomEntity {
  @Id() eventId: string;
  @Reference() houseId: string;
  @Big() lastSeq: number;
}

/** Somebody who joined by name; known by a bearer value only. */
@Entity('chat_people')
export class ChatPersonEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Text(40) name: string;
  @Text(64) tokenSha256Hex: string;
  @Instant() joinedAtMs: number;
  /** Who hid this person; they may go on writing, and only they and moderators see it. */
  @Text(120, { nullable: true }) hiddenBy: string | null;
}

@Entity('chat_messages')
export class ChatMessageEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  /** Chat person, or the person of the house who answered from the desk. */
  @Reference() authorId: string;
  /** What the author's browser knows the message by: a repeat is recognised. */
  @Reference() clientKey: string;
  @Text(120) author: string;
  @Flag() byHouse: boolean;
  @LongText() text: string;
  @Instant() atMs: number;
  @Big() seq: number;
  @Text(120, { nullable: true }) hiddenBy: string | null;
  /** Hidden because its author was: comes back with them. */
  @Flag() hiddenWithPerson: boolean;
}
