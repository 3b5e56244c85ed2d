import { Entity } from 'typeorm';
import type { Audience } from '@heliphon/core/connectors/connector-facts';
import type { PostingWords } from '@heliphon/core/connectors/posting-words';
import { Id, LongText, Reference, Text } from '../platform/columns.js';

/** What an event, or a series, says at one of its outlets. */
@Entity('posting_words')
export class PostingWordsEntity implements PostingWords {
  @Id() id: string;
  @Reference() houseId: string;
  @Reference({ nullable: true }) eventId: string | null;
  @Reference({ nullable: true }) seriesId: string | null;
  @Reference() destinationId: string;
  @Text(120, { nullable: true }) title: string | null;
  @LongText({ nullable: true }) text: string | null;
  @Reference({ nullable: true }) pictureId: string | null;
  @Text(10, { nullable: true }) audience: Audience | null;
}
