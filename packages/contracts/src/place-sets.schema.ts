import Joi from 'joi';
import { type AddPlaceSet, type EditPlaceSet, PLACE_SET_NAME_LENGTH } from './place-sets.js';
import { lineSchema } from './text.schema.js';

const name = lineSchema(PLACE_SET_NAME_LENGTH);
const destinationIds = Joi.array().items(Joi.string().uuid()).unique().min(1).max(100);

export const addPlaceSetSchema = Joi.object<AddPlaceSet>({
  name: name.required(),
  destinationIds: destinationIds.required(),
});

export const editPlaceSetSchema = Joi.object<EditPlaceSet>({ name, destinationIds }).min(1);
