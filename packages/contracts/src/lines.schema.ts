import Joi from 'joi';
import { type AddGuestLink, LINE_LIMITS } from './lines.js';

export const addGuestLinkSchema = Joi.object<AddGuestLink, true>({
  eventId: Joi.string().uuid().required(),
  name: Joi.string().trim().min(1).max(LINE_LIMITS.nameLength).required(),
});

/** The browser that opens a guest's link names itself by a secret of its own making. */
export const openGuestLinkSchema = Joi.object<{ device: string }, true>({
  device: Joi.string().hex().length(40).required(),
});
