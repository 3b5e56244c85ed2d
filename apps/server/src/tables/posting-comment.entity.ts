import { Entity } from 'typeorm';
import { Id, Instant, LongText, Reference, Text } from '../platform/columns.js';

/** What somebody said under a posting. */
@Entity('posting_comments')
export class PostingCommentEntity {
  @Id() id: string;
  @Reference() postingId: string;
  @Text(100) idThere: string;
  @Reference() houseId: string;
  @Reference() eventId: string;
  @Reference() destinationId: string;
  @Text(200) author: string;
  @LongText() text: string;
  @Instant() atMs: number;
}
