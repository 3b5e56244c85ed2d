import { Module } from '@nestjs/common';
import { AccountsModule } from '../accounts/accounts.module.js';
import { ConnectorsModule } from '../connectors/connectors.module.js';
import { LiveModule } from '../live/live.module.js';
import { FilesModule } from '../files/files.module.js';
import { PostingKeeper } from './posting-keeper.js';
import { PostingFigures } from './posting-figures.js';
import { PostingSecrets } from './posting-secrets.js';
import { PostingWordsService } from './posting-words.service.js';
import { TestSends } from './test-sends.js';
import { PostingsController } from './postings.controller.js';
import { PostingsService } from './postings.service.js';

/** Events as they are posted at outlets: made ahead of time, kept in step, begun and ended. */
@Module({
  imports: [LiveModule, AccountsModule, ConnectorsModule, FilesModule],
  controllers: [PostingsController],
  providers: [TestSends, PostingFigures, PostingKeeper, PostingSecrets, PostingWordsService, PostingsService],
  exports: [PostingSecrets],
})
export class PostingsModule {}
