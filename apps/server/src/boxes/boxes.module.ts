import { Module } from '@nestjs/common';
import { NodesModule } from '../nodes/nodes.module.js';
import { SourcesModule } from '../sources/sources.module.js';
import { BoxesController } from './boxes.controller.js';
import { BoxesService } from './boxes.service.js';
import { DeviceGrantController } from './device-grant.controller.js';
import { PairingsService } from './pairings.service.js';

/** Encoder boxes that are paired with a source. */
@Module({
  imports: [NodesModule, SourcesModule],
  controllers: [BoxesController, DeviceGrantController],
  providers: [BoxesService, PairingsService],
})
export class BoxesModule {}
