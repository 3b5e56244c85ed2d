import Joi from 'joi';
import type { BeginTestSend } from './test-sends.js';

export const beginTestSendSchema = Joi.object<BeginTestSend, true>({
  destinationId: Joi.string().uuid().required(),
});
