import { Entity } from 'typeorm';
import type { LanguageWords } from '@heliphon/core/languages/compile-language';
import { Id, Instant, Json, Reference, Text } from '../platform/columns.js';

/** A language that a house made for its pages. */
@Entity('languages')
export class LanguageEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(35) tag: string;
  @Text(60) name: string;
  @Json() words: LanguageWords;
  @Instant() keptAtMs: number;
}
