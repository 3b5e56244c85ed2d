import Joi from 'joi';
import type { SetWebhook } from './webhooks.js';

/** Longer than any address that people make, short enough for a column. */
const LONGEST_ADDRESS = 500;

export const setWebhookSchema = Joi.object<SetWebhook>({
  address: Joi.string()
    .trim()
    .max(LONGEST_ADDRESS)
    .uri({ scheme: ['http', 'https'] })
    .required(),
});
