import { Module } from '@nestjs/common';
import { DestinationsModule } from '../destinations/destinations.module.js';
import { EventsModule } from '../events/events.module.js';
import { FilesModule } from '../files/files.module.js';
import { LiveModule } from '../live/live.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { PostingsModule } from '../postings/postings.module.js';
import { SignalModule } from '../signal/signal.module.js';
import { SlatesModule } from '../slates/slates.module.js';
import { SourcesModule } from '../sources/sources.module.js';
import { ControlGateway } from './control-gateway.js';
import { DesiredStateService } from './desired-state.service.js';
import { NodeFilmsController } from './node-films.controller.js';
import { NodeSlatesController } from './node-slates.controller.js';
import { NodeLinks, NodeLinksInMemory } from './node-links.js';
import { PlaceAddresses } from './place-addresses.js';
import { ObservationsService } from './observations.service.js';

/** The control link to the media nodes: what they are to do, and what they observed. */
@Module({
  imports: [
    LiveModule,
    NodesModule,
    FilesModule,
    SlatesModule,
    DestinationsModule,
    PostingsModule,
    SourcesModule,
    EventsModule,
    SignalModule,
  ],
  controllers: [NodeFilmsController, NodeSlatesController],
  providers: [
    ControlGateway,
    DesiredStateService,
    PlaceAddresses,
    ObservationsService,
    { provide: NodeLinks, useClass: NodeLinksInMemory },
  ],
  exports: [ControlGateway],
})
export class MediaLinkModule {}
