import { Module } from '@nestjs/common';
import { NotesController } from './notes.controller.js';
import { NotesService } from './notes.service.js';

/** What people at the desk note of an event, with its time. */
@Module({ controllers: [NotesController], providers: [NotesService] })
export class NotesModule {}
