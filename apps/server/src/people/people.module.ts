import { Module } from '@nestjs/common';
import { LettersModule } from '../letters/letters.module.js';
import { Recogniser } from '../platform/signed-in.js';
import { Credentials } from './credentials.js';
import { InvitationsService } from './invitations.service.js';
import { OwnAccessController } from './own-access.controller.js';
import { PeopleController } from './people.controller.js';
import { PeopleService } from './people.service.js';
import { SecondFactor } from './second-factor.js';
import { SessionController } from './session.controller.js';

/** People of a house: signing in, invitations, access. */
@Module({
  imports: [LettersModule],
  controllers: [OwnAccessController, PeopleController, SessionController],
  providers: [
    Credentials,
    InvitationsService,
    PeopleService,
    SecondFactor,
    { provide: Recogniser, useExisting: Credentials },
  ],
  exports: [Credentials, Recogniser],
})
export class PeopleModule {}
