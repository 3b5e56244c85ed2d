import Joi from 'joi';
import { type AddDestination, DESTINATION_NAME_LENGTH, type EditDestination } from './destinations.js';

const name = Joi.string().trim().min(1).max(DESTINATION_NAME_LENGTH);
/** Its parts are checked by core, which can say what is wrong with it. */
const address = Joi.string().allow('').max(2000);

export const addDestinationSchema = Joi.object<AddDestination, true>({
  name: name.required(),
  address: address.required(),
});
export const editDestinationSchema = Joi.object<EditDestination, true>({ name, address }).min(1);
