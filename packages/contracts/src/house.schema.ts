import Joi from 'joi';
import type { DeleteHouse, EditHouse } from './house.js';
import { slateWordsSchema } from './slate.schema.js';
import { lineSchema } from './text.schema.js';

const colour = Joi.string().pattern(/^#[0-9a-f]{6}$/i, 'a colour');

export const editHouseSchema = Joi.object<EditHouse, true>({
  name: lineSchema(120),
  zone: Joi.string().max(64),
  rules: Joi.string().trim().min(1).max(4000),
  accent: colour,
  accentWarm: colour,
  slateWords: slateWordsSchema,
}).min(1);

export const deleteHouseSchema = Joi.object<DeleteHouse, true>({
  name: Joi.string().max(120).required(),
  password: Joi.string().max(1000).required(),
});
