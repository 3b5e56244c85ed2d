import type { NoteView } from '@heliphon/contracts/notes';
import type { HouseScope } from '../platform/database.js';
import { NoteEntity } from '../tables/note.entity.js';

/** More than these nobody reads on a strip. */
const MOST_NOTES = 500;

export const noteView = ({ id, atMs, text, byName, isChapter }: NoteEntity): NoteView => ({
  id,
  atMs,
  text,
  byName,
  isChapter,
});

/** What the desk noted of an event, in order of time. */
export async function notesOf(scope: HouseScope, eventId: string): Promise<NoteView[]> {
  const rows = await scope.find(NoteEntity, { where: { eventId }, order: { atMs: 'ASC' }, take: MOST_NOTES });
  return rows.map(noteView);
}
