import Joi from 'joi';
import { type AddChannel, CHANNEL_LIMITS, type EditChannel } from './channels.js';
import { slugSchema } from './events.schema.js';
import { lineSchema } from './text.schema.js';

const name = lineSchema(CHANNEL_LIMITS.nameLength);
const description = Joi.string().trim().allow('').max(CHANNEL_LIMITS.descriptionLength);

export const addChannelSchema = Joi.object<AddChannel, true>({
  name: name.required(),
  description: description.default(''),
});

export const editChannelSchema = Joi.object<EditChannel>({ name, description, slug: slugSchema }).min(1);
