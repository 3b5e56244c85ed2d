import { Controller, Delete, Get, HttpCode, Patch, Post } from '@nestjs/common';
import type { EditNote, NoteView, WriteNote } from '@heliphon/contracts/notes';
import { editNoteSchema, writeNoteSchema } from '@heliphon/contracts/notes.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, Paging } from '../platform/parameters.js';
import { NotesService } from './notes.service.js';

/** Notes of the desk. */
@Controller('api')
export class NotesController {
  constructor(private readonly notes: NotesService) {}

  @Get('events/:id/notes')
  @Needs('events.read')
  list(@Ctx() ctx: Context, @Id() id: string, @Paging() page: PageWish): Promise<Page<NoteView>> {
    return this.notes.list(ctx, id, page);
  }

  @Post('events/:id/notes')
  @Needs('events.move')
  write(@Ctx() ctx: Context, @Id() id: string, @Checked(writeNoteSchema) note: WriteNote): Promise<NoteView> {
    return this.notes.write(ctx, id, note);
  }

  @Patch('notes/:id')
  @Needs('events.move')
  edit(@Ctx() ctx: Context, @Id() id: string, @Checked(editNoteSchema) change: EditNote): Promise<NoteView> {
    return this.notes.edit(ctx, id, change);
  }

  @Delete('notes/:id')
  @HttpCode(204)
  @Needs('events.move')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.notes.remove(ctx, id);
  }
}
