import Joi from 'joi';
import { type AddGuestLink, GUEST_LIMITS } from './send-tokens.js';
import { lineSchema } from './text.schema.js';

export const addGuestLinkSchema = Joi.object<AddGuestLink, true>({
  eventId: Joi.string().uuid().required(),
  name: lineSchema(GUEST_LIMITS.nameLength).required(),
});

/** The browser that opens a guest's link names itself by a secret of its own making. */
export const openGuestLinkSchema = Joi.object<{ device: string }, true>({
  device: Joi.string().hex().length(40).required(),
});
