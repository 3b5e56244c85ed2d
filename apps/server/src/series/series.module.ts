import { Module } from '@nestjs/common';
import { FilesModule } from '../files/files.module.js';
import { SeriesPlanner } from './series-planner.js';
import { SeriesController } from './series.controller.js';
import { SeriesService } from './series.service.js';

/** Events that come again by a rule. */
@Module({
  imports: [FilesModule],
  controllers: [SeriesController],
  providers: [SeriesPlanner, SeriesService],
  exports: [SeriesService],
})
export class SeriesModule {}
