import Joi from 'joi';
import { FILE_KINDS, FILE_LIMITS, FILE_STATES } from '@heliphon/core/files/file-kinds';
import type { ChoosePoster, EditFile, FileFilter } from './files.js';
import { lineSchema } from './text.schema.js';

export const fileNameSchema = lineSchema(FILE_LIMITS.nameLength);

export const editFileSchema = Joi.object<EditFile, true>({ name: fileNameSchema.required() });

export const fileFilterSchema = Joi.object<FileFilter>({
  kind: Joi.string()
    .valid(...FILE_KINDS)
    .empty(''),
  state: Joi.string()
    .valid(...FILE_STATES)
    .empty(''),
  in: Joi.string().valid('bin').empty(''),
});

export const choosePosterSchema = Joi.object<ChoosePoster, true>({ fileId: Joi.string().uuid().required() });
