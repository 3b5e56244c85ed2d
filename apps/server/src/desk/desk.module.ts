import { Module } from '@nestjs/common';
import { DeskController } from './desk.controller.js';
import { DeskHoldersService } from './desk-holders.service.js';

/** Who holds the desk of an event. */
@Module({ controllers: [DeskController], providers: [DeskHoldersService] })
export class DeskModule {}
