import Joi from 'joi';

/** A file as it was chosen; what is in it is looked at word by word (`core/languages/read-language`). */
export const languageFileSchema = Joi.object<object>().unknown();

/** BCP 47, in form alone. */
export const languageTagSchema = Joi.string()
  .pattern(/^[A-Za-z0-9-]+$/)
  .max(35);
