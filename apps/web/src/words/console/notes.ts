import type { Filled } from '../filled.js';

/** What is said of the notes of the desk. en-GB. */
export const NOTE_TEXT = {
  note: 'Note',
  noteAt: (time: Filled) => `Note at ${time}`,
  keep: 'Keep it',
  cancel: 'Cancel',
  notes: 'Notes',
  noNotes: 'Nobody took a note.',
  makeChapter: 'Make it a chapter',
  isChapter: 'A chapter of the replay',
  remove: 'Remove',
  removed: 'The note was removed.',
  by: (name: Filled) => `by ${name}`,
} as const;
