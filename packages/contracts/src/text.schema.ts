import Joi from 'joi';
import { canonicalEmail } from '@heliphon/core/access/email-address';
import { cleanLine } from '@heliphon/core/text/plain-text';

/** One line that people read, at most `most` characters: a title, a name. */
export const lineSchema = (most: number): Joi.StringSchema =>
  Joi.string()
    .custom((raw: string, helpers) => cleanLine(raw) || helpers.error('string.empty'))
    .max(most);

/** An e-mail address, in the form in which it is kept. */
export const emailSchema = Joi.string()
  .trim()
  .email({ tlds: false })
  .max(254)
  .custom((raw: string, helpers) => canonicalEmail(raw) ?? helpers.error('string.email'))
  .prefs({ abortEarly: true });
