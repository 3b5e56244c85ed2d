import { Injectable } from '@nestjs/common';
import type { EditNote, NoteView, WriteNote } from '@heliphon/contracts/notes';
import type { Page } from '@heliphon/contracts/problem';
import { type Context, Database, type PageWish } from '../platform/database.js';
import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { newId } from '../platform/ids.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { EventEntity } from '../tables/event.entity.js';
import { NoteEntity } from '../tables/note.entity.js';
import { noteView } from './notes-of.js';

const REMOVED = payload(having<NoteEntity>({ id: idKey.required(), text: textKey.required() }));

/** What people at the desk note of an event, with its time. */
@Injectable()
export class NotesService {
  constructor(
    private readonly database: Database,
    undo: UndoRegistry,
  ) {
    undo.register('note-removed', 'events.move', REMOVED, (scope, { before }) =>
      scope.add(NoteEntity, before),
    );
  }

  /** In order of time. */
  async list(ctx: Context, eventId: string, wish: PageWish): Promise<Page<NoteView>> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const { rows, next } = await scope.page(NoteEntity, { by: 'atMs', where: { eventId } }, wish);
    return { items: rows.map(noteView), next };
  }

  async write(ctx: Context, eventId: string, { text, atMs }: WriteNote): Promise<NoteView> {
    return this.database.transaction(ctx, async (scope) => {
      await scope.get(EventEntity, eventId, 'event');
      const byName = ctx.byName;
      const row = await scope.add(NoteEntity, { id: newId(), eventId, atMs, text, byName, isChapter: false });
      await scope.happened({
        subjectKind: 'event',
        subjectId: eventId,
        kind: 'note-written',
        after: { text, atMs },
      });
      return noteView(row);
    });
  }

  async edit(ctx: Context, id: string, change: EditNote): Promise<NoteView> {
    return this.database.transaction(ctx, async (scope) => {
      const note = await scope.lock(NoteEntity, { id }, 'note');
      const before = { text: note.text, isChapter: note.isChapter };
      const saved = await scope.save(Object.assign(note, change));
      await scope.happened({
        subjectKind: 'event',
        subjectId: note.eventId,
        kind: 'note-edited',
        before,
        after: change,
      });
      return noteView(saved);
    });
  }

  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const before = await scope.lock(NoteEntity, { id }, 'note');
      await scope.remove(NoteEntity, { id });
      await scope.happened({ subjectKind: 'event', subjectId: before.eventId, kind: 'note-removed', before });
    });
  }
}
