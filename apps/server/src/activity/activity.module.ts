import { Module } from '@nestjs/common';
import { NodesModule } from '../nodes/nodes.module.js';
import { ActivityRecord } from './activity-record.js';
import { ActivityController } from './activity.controller.js';

/** The record of what happened in a house, read by people and taken back from there. */
@Module({
  imports: [NodesModule],
  controllers: [ActivityController],
  providers: [ActivityRecord],
  exports: [ActivityRecord],
})
export class ActivityModule {}
