import { Module } from '@nestjs/common';
import { LanguagesModule } from '../languages/languages.module.js';
import { LettersModule } from '../letters/letters.module.js';
import { PeopleModule } from '../people/people.module.js';
import { AdmissionsService } from './admissions.service.js';
import { Countries } from './countries.js';
import { InvitedService } from './invited.service.js';
import { Visitors } from './visitors.js';
import { WatchingController } from './watching.controller.js';
import { WatchingService } from './watching.service.js';
import { WatchPasswordsService } from './watch-passwords.service.js';

/** Who may watch, from the house down to one event. */
@Module({
  imports: [LanguagesModule, LettersModule, PeopleModule],
  controllers: [WatchingController],
  providers: [AdmissionsService, Countries, InvitedService, Visitors, WatchingService, WatchPasswordsService],
  exports: [AdmissionsService, Visitors],
})
export class WatchingModule {}
