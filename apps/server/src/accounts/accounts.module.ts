import { Module } from '@nestjs/common';
import { ConnectorsModule } from '../connectors/connectors.module.js';
import { LettersModule } from '../letters/letters.module.js';
import { AccountLetters } from './account-letters.js';
import { AccountLooks } from './account-looks.js';
import { AccountTokens } from './account-tokens.js';
import { AccountsController } from './accounts.controller.js';
import { AccountsService } from './accounts.service.js';
import { LinkingService } from './linking.service.js';
import { UnlinkingService } from './unlinking.service.js';

/** Accounts of platforms that a house has linked, and where it may post by them. */
@Module({
  imports: [ConnectorsModule, LettersModule],
  controllers: [AccountsController],
  providers: [AccountLetters, AccountLooks, AccountTokens, AccountsService, LinkingService, UnlinkingService],
  exports: [AccountTokens],
})
export class AccountsModule {}
