import Joi from 'joi';
import { EVENT_LIMITS } from './events.js';
import type { EditRecording } from './house.js';

export const editRecordingSchema = Joi.object<EditRecording, true>({
  title: Joi.string().trim().min(1).max(EVENT_LIMITS.titleLength),
  description: Joi.string().allow('').max(EVENT_LIMITS.descriptionLength),
}).min(1);
