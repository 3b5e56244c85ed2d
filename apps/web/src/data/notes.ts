import useSWR from 'swr';
import type { EditNote, NoteView, WriteNote } from '@heliphon/contracts/notes';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

const notesAt = (eventId: string): string => `/api/events/${eventId}/notes?limit=200`;

export const useNotes = (eventId: string) => useSWR<Page<NoteView>>(notesAt(eventId), fetcher);

export const writeNote = (eventId: string, note: WriteNote): Promise<NoteView> =>
  thenAskAgain(notesAt(eventId), ask(`/api/events/${eventId}/notes`, { method: 'POST', body: note }));

export const editNote = (eventId: string, id: string, change: EditNote): Promise<NoteView> =>
  thenAskAgain(notesAt(eventId), ask(`/api/notes/${id}`, { method: 'PATCH', body: change }));

export const removeNote = (eventId: string, id: string): Promise<void> =>
  thenAskAgain(notesAt(eventId), ask(`/api/notes/${id}`, { method: 'DELETE' }));
