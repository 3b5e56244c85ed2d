import Joi from 'joi';
import { RTMP_SCHEMES } from '@heliphon/core/destinations/rtmp-address';
import {
  type AddDestination,
  DESTINATION_NAME_LENGTH,
  type DestinationParts,
  type EditDestination,
  MOST_AHEAD_HOURS,
} from './destinations.js';
import { lineSchema } from './text.schema.js';

const name = lineSchema(DESTINATION_NAME_LENGTH);
/** Its parts are checked by core, which can say what is wrong with it. */
const address = Joi.string().allow('').max(2000);

const piece = Joi.string().trim().max(500);
const parts = Joi.object<DestinationParts>({
  scheme: Joi.valid(...RTMP_SCHEMES).required(),
  host: piece.required(),
  port: Joi.number().port().allow(null).default(null),
  application: piece.required(),
  streamName: piece,
  user: piece.allow(null).default(null),
  password: Joi.string().max(500),
});

export const addDestinationSchema = Joi.object<AddDestination, true>({
  name: name.required(),
  address,
  parts,
}).xor('address', 'parts');

export const editDestinationSchema = Joi.object<EditDestination, true>({
  name,
  address,
  parts,
  postAheadHours: Joi.number().integer().min(0).max(MOST_AHEAD_HOURS).allow(null),
})
  .min(1)
  .oxor('address', 'parts');
