import { Module } from '@nestjs/common';
import { FilesModule } from '../files/files.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { ClipsController } from './clips.controller.js';
import { ClipsService } from './clips.service.js';
import { RecordingsController } from './recordings.controller.js';
import { RecordingsService } from './recordings.service.js';

/** What is kept of programmes. */
@Module({
  imports: [NodesModule, FilesModule],
  controllers: [RecordingsController, ClipsController],
  providers: [RecordingsService, ClipsService],
  exports: [RecordingsService],
})
export class RecordingsModule {}
