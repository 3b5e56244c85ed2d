import Joi from 'joi';
import { type CheckWebsite, SHOWN_LEVELS, type ShownLevel } from './websites.js';

export const checkWebsiteSchema = Joi.object<CheckWebsite, true>({
  address: Joi.string()
    .trim()
    // As people type it: the web is reached over TLS unless somebody says otherwise.
    .custom((raw: string) => (/^[a-z][a-z0-9+.-]*:\/\//i.test(raw) ? raw : `https://${raw}`))
    .uri({ scheme: ['http', 'https'] })
    .max(1000)
    .required(),
});
export const shownLevelSchema = Joi.string<ShownLevel>().valid(...SHOWN_LEVELS);
