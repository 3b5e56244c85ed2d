import Joi from 'joi';
import { SLATE_WORDS_LENGTH } from './slate.js';
import { lineSchema } from './text.schema.js';

export interface SlateQuery {
  readonly words?: string;
  /** Of the house: another address, another picture. */
  readonly version?: string;
}

export const slateWordsSchema = lineSchema(SLATE_WORDS_LENGTH);

/** Words to be tried. */
export const slateQuerySchema = Joi.object<SlateQuery, true>({
  words: slateWordsSchema,
  version: Joi.string().max(20),
});
