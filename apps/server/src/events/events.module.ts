import { Module } from '@nestjs/common';
import { ConnectorsModule } from '../connectors/connectors.module.js';
import { FilesModule } from '../files/files.module.js';
import { LiveModule } from '../live/live.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { EventLifeService } from './event-life.service.js';
import { EventLists } from './event-lists.js';
import { EventViews } from './event-views.js';
import { EventsController } from './events.controller.js';
import { EventsService } from './events.service.js';
import { PlacesOfEventController } from './places-of-event.controller.js';
import { PlacesOfEventService } from './places-of-event.service.js';
import { ReadinessService } from './readiness.service.js';
import { RehearsalsController } from './rehearsals.controller.js';
import { RehearsalsService } from './rehearsals.service.js';
import { RemediesService } from './remedies.service.js';

/** Events: planned, rehearsed, on air, kept. */
@Module({
  imports: [ConnectorsModule, LiveModule, NodesModule, FilesModule],
  controllers: [EventsController, PlacesOfEventController, RehearsalsController],
  providers: [
    EventLifeService,
    EventLists,
    EventViews,
    EventsService,
    PlacesOfEventService,
    ReadinessService,
    RehearsalsService,
    RemediesService,
  ],
  exports: [EventLifeService, EventViews, EventsService],
})
export class EventsModule {}
