import Joi from 'joi';
import type { ActivityQuery, UndoLast } from './activity.js';

export const activityQuerySchema = Joi.object<ActivityQuery>({
  subjectId: Joi.string().uuid(),
  by: Joi.string().max(36),
  kinds: Joi.array().items(Joi.string().max(60)).single().max(20),
  words: Joi.string().trim().max(100),
  fromMs: Joi.number().integer(),
  toMs: Joi.number().integer(),
});

export const undoLastSchema = Joi.object<UndoLast, true>({ subjectId: Joi.string().uuid().required() });
