import Joi from 'joi';
import type { SignIn } from './house.js';

export const signInSchema = Joi.object<SignIn, true>({
  email: Joi.string().trim().lowercase().email({ tlds: false }).max(254).required(),
  password: Joi.string().max(1000).required(),
});
