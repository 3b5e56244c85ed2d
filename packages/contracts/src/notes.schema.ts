import Joi from 'joi';
import { type EditNote, NOTE_LENGTH, type WriteNote } from './notes.js';
import { lineSchema } from './text.schema.js';

export const writeNoteSchema = Joi.object<WriteNote, true>({
  text: lineSchema(NOTE_LENGTH).required(),
  atMs: Joi.number().integer().min(0).required(),
});

export const editNoteSchema = Joi.object<EditNote>({
  text: lineSchema(NOTE_LENGTH),
  isChapter: Joi.boolean(),
}).min(1);
