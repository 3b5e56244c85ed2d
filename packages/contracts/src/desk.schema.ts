import Joi from 'joi';
import type { ChooseHolder } from './desk.js';

export const chooseHolderSchema = Joi.object<ChooseHolder, true>({
  personId: Joi.string().uuid().allow(null).required(),
});
