import { Module } from '@nestjs/common';
import { LiveModule } from '../live/live.module.js';
import { MediaLinkModule } from '../media-link/media-link.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { HealthController } from './health.controller.js';
import { MetricsController } from './metrics.controller.js';
import { ServerMetrics } from './server-metrics.js';

/** Health and metrics, for those who run the installation. */
@Module({
  imports: [LiveModule, NodesModule, MediaLinkModule],
  controllers: [HealthController, MetricsController],
  providers: [ServerMetrics],
})
export class MetricsModule {}
