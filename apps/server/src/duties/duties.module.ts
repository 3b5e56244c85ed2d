import { Module } from '@nestjs/common';
import { CalendarsModule } from '../calendars/calendars.module.js';
import { LettersModule } from '../letters/letters.module.js';
import { DutiesController } from './duties.controller.js';
import { DutiesService } from './duties.service.js';
import { DutyAnswers } from './duty-answers.js';
import { DutyLetters } from './duty-letters.js';

/** Who serves when, asked and answered by letter. */
@Module({
  imports: [LettersModule, CalendarsModule],
  controllers: [DutiesController],
  providers: [DutiesService, DutyAnswers, DutyLetters],
})
export class DutiesModule {}
