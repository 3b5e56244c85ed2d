import Joi from 'joi';
import { ANSWERS } from '@heliphon/core/duties/duties';
import { type AnswerDuty, DUTY_NOTE_LENGTH } from './duties.js';
import { dutySchema } from './events.schema.js';

export const answerDutySchema = Joi.object<AnswerDuty, true>({
  eventId: Joi.string().uuid().required(),
  duty: dutySchema.required(),
  answer: Joi.string()
    .valid(...ANSWERS)
    .required(),
  note: Joi.string().trim().allow('').max(DUTY_NOTE_LENGTH).default(''),
});
