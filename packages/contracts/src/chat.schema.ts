import Joi from 'joi';
import type { JoinChat, PostMessage } from './chat.js';

/** Lengths are judged by core, in characters as people count them; this only keeps out what is absurd. */
const text = Joi.string().allow('').max(50_000);

export const joinChatSchema = Joi.object<JoinChat>({
  name: text.required(),
  acceptsRules: Joi.valid(true).required(),
});

export const postMessageSchema = Joi.object<PostMessage, true>({
  text: text.required(),
  messageId: Joi.string().uuid().required(),
});
