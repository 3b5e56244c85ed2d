import { Module } from '@nestjs/common';
import { LiveModule } from '../live/live.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { PeopleModule } from '../people/people.module.js';
import { PublicModule } from '../public/public.module.js';
import { SourcesModule } from '../sources/sources.module.js';
import { PushService } from './push.service.js';

/** Hints to open consoles and pages that something has changed. */
@Module({
  imports: [LiveModule, NodesModule, PeopleModule, SourcesModule, PublicModule],
  providers: [PushService],
})
export class PushModule {}
