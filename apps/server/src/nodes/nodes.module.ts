import { Module } from '@nestjs/common';
import { LiveModule } from '../live/live.module.js';
import { Grants } from './grants.js';
import { MediaNodes } from './media-nodes.js';
import { NodeWatch } from './node-watch.js';
import { Placement } from './placement.js';
import { PointsController } from './points.controller.js';

/** Media nodes: who they are, which of them has what, and the addresses at which they play. */
@Module({
  imports: [LiveModule],
  controllers: [PointsController],
  providers: [Grants, MediaNodes, NodeWatch, Placement],
  exports: [Grants, MediaNodes, Placement],
})
export class NodesModule {}
