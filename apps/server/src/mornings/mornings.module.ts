import { Module } from '@nestjs/common';
import { EventsModule } from '../events/events.module.js';
import { LettersModule } from '../letters/letters.module.js';
import { MorningLetters } from './morning-letters.js';
import { OwnLettersController } from './own-letters.controller.js';

/** The letter in the morning of a day with events. */
@Module({
  imports: [LettersModule, EventsModule],
  controllers: [OwnLettersController],
  providers: [MorningLetters],
})
export class MorningsModule {}
