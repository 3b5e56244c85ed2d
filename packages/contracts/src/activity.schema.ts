import Joi from 'joi';
import { instantSchema } from './dates.schema.js';
import type { ActivityQuery, UndoLast } from './activity.js';
import { HAPPENING_KINDS } from './happenings.js';

export const activityQuerySchema = Joi.object<ActivityQuery>({
  subjectId: Joi.string().uuid(),
  by: Joi.string().max(36),
  kinds: Joi.array()
    .items(Joi.string().valid(...HAPPENING_KINDS))
    .single()
    .max(HAPPENING_KINDS.length),
  words: Joi.string().trim().max(100),
  fromMs: instantSchema,
  toMs: instantSchema,
});

export const undoLastSchema = Joi.object<UndoLast, true>({ subjectId: Joi.string().uuid().required() });
