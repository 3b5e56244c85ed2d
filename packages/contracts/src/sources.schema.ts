import Joi from 'joi';
import { type EditSource, SOURCE_NAME_LENGTH } from './sources.js';

const name = Joi.string().trim().min(1).max(SOURCE_NAME_LENGTH);

export const addSourceSchema = Joi.object<{ name: string; hasPassword: boolean }, true>({
  name: name.required(),
  hasPassword: Joi.boolean().default(false),
});

export const editSourceSchema = Joi.object<EditSource, true>({ name, hasPassword: Joi.boolean() }).min(1);
