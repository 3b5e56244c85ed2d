import { Module } from '@nestjs/common';
import { ActivityModule } from '../activity/activity.module.js';
import { LiveModule } from '../live/live.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { SendTokensController } from './send-tokens.controller.js';
import { SendTokensService } from './send-tokens.service.js';
import { SourcesController } from './sources.controller.js';
import { SourcesService } from './sources.service.js';
import { SrtPorts } from './srt-ports.js';

/** Sources, their keys, and those who may send to them. */
@Module({
  imports: [LiveModule, NodesModule, ActivityModule],
  controllers: [SendTokensController, SourcesController],
  providers: [SendTokensService, SourcesService, SrtPorts],
  exports: [SendTokensService, SourcesService, SrtPorts],
})
export class SourcesModule {}
