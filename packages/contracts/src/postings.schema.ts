import Joi from 'joi';
import { AUDIENCES } from '@heliphon/core/connectors/connector-facts';
import type { PostingWords } from '@heliphon/core/connectors/posting-words';
import { EVENT_LIMITS } from './events.js';
import { lineSchema } from './text.schema.js';

export const postingWordsSchema = Joi.object<PostingWords>({
  title: lineSchema(EVENT_LIMITS.titleLength).allow(null).required(),
  text: Joi.string().max(EVENT_LIMITS.descriptionLength).allow(null).required(),
  pictureId: Joi.string().uuid().allow(null).required(),
  audience: Joi.valid(...AUDIENCES, null).required(),
});
