import Joi from 'joi';
import { EVENT_LIMITS } from './events.js';
import type { EditRecording } from './house.js';
import { lineSchema } from './text.schema.js';

export const editRecordingSchema = Joi.object<EditRecording, true>({
  title: lineSchema(EVENT_LIMITS.titleLength),
  description: Joi.string().allow('').max(EVENT_LIMITS.descriptionLength),
  keepsGaps: Joi.boolean(),
}).min(1);
