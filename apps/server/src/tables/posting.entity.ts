import { Entity } from 'typeorm';
import type { PostingEnding, PostingKnown, PostingText } from '@heliphon/core/connectors/posting-step';
import { Count, Flag, Id, Instant, Json, LongText, Reference, Text } from '../platform/columns.js';

/** An event as it is posted at an outlet: what is known of it over there, and what was told last. */
@Entity('postings')
export class PostingEntity {
  /** Our name for it over there too, by which it is found again. */
  @Id() id: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Reference() destinationId: string;
  @Reference() outletId: string;
  /** `null` while it was not made, or is there no more. */
  @Text(100, { nullable: true }) idThere: string | null;
  @Text(10, { nullable: true }) state: PostingKnown['state'] | null;
  @Text(20, { nullable: true }) endedBecause: PostingEnding | null;
  @Json({ nullable: true }) told: PostingText | null;
  @Text(500, { nullable: true }) link: string | null;
  /** Where its picture goes, key included. */
  @LongText({ nullable: true }) sealedIngest: string | null;
  /** When the platform said last how it stands. */
  @Instant({ nullable: true }) seenAtMs: number | null;
  /** Why the last step was not taken. */
  @Text(20, { nullable: true }) trouble: string | null;
  @Count() attempts: number;
  /** Not asked before this, whatever is to be done. */
  @Instant() nextTryAtMs: number;
  /** Which posting of its event it is there; each that had to be made again is one more. */
  @Count({ default: 1 }) part: number;
  /** Somebody wants to go on in a new one. */
  @Flag({ default: 0 }) isAskedAgain: boolean;
  /** How many watch it over there; `null` while that is not known. */
  @Count({ nullable: true }) viewers: number | null;
  /** The last comment that was taken up. */
  @Text(100, { nullable: true }) commentsAfter: string | null;
  /** When viewers and comments were asked for last; later than now where the platform asks us to wait. */
  @Instant({ nullable: true }) askedAtMs: number | null;
  /** Nothing is to be done any more. */
  @Instant({ nullable: true }) doneAtMs: number | null;
}
