import { type DynamicModule, Module } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, DiscoveryModule } from '@nestjs/core';
import { DataSource } from 'typeorm';
import { ActivityController } from './activity/activity.controller.js';
import { ActivityRecord } from './activity/activity-record.js';
import { CalendarImportService } from './calendars/calendar-import.service.js';
import { CalendarsController } from './calendars/calendars.controller.js';
import { CalendarsService } from './calendars/calendars.service.js';
import { HouseCalendarController } from './calendars/house-calendar.controller.js';
import { OpenApiController } from './api-description/openapi.controller.js';
import { DestinationSecrets } from './destinations/destination-secrets.js';
import { DutiesController } from './duties/duties.controller.js';
import { DutiesService } from './duties/duties.service.js';
import { DutyAnswers } from './duties/duty-answers.js';
import { DutyLetters } from './duties/duty-letters.js';
import { HouseController } from './house/house.controller.js';
import { HouseService } from './house/house.service.js';
import { MorningLetters } from './letters/morning-letters.js';
import { OwnLettersController } from './letters/own-letters.controller.js';
import { PostOffice } from './letters/post-office.js';
import { OrderController } from './order/order.controller.js';
import { OrderService } from './order/order.service.js';
import { MetricsController } from './metrics/metrics.controller.js';
import { ServerMetrics } from './metrics/server-metrics.js';
import { InvitationsService } from './people/invitations.service.js';
import { OwnAccessController } from './people/own-access.controller.js';
import { PeopleController } from './people/people.controller.js';
import { PeopleService } from './people/people.service.js';
import { SecondFactor } from './people/second-factor.js';
import { UndoRegistry } from './platform/undo-registry.js';
import { OEmbedController } from './public/oembed.controller.js';
import { Housekeeper } from './recordings/housekeeper.js';
import { ChatBatches } from './chat/chat-batches.js';
import { ChatController } from './chat/chat.controller.js';
import { ChatModerationService } from './chat/chat-moderation.service.js';
import { ChatService } from './chat/chat.service.js';
import { ChannelsController } from './channels/channels.controller.js';
import { ChannelsService } from './channels/channels.service.js';
import { DestinationsController } from './destinations/destinations.controller.js';
import { DestinationsService } from './destinations/destinations.service.js';
import { EventLifeService } from './events/event-life.service.js';
import { EventsController } from './events/events.controller.js';
import { EventsService } from './events/events.service.js';
import { EventLists } from './events/event-lists.js';
import { EventViews } from './events/event-views.js';
import { RehearsalsController } from './events/rehearsals.controller.js';
import { RehearsalsService } from './events/rehearsals.service.js';
import { RemediesService } from './events/remedies.service.js';
import { Posters } from './events/posters.js';
import { ReadinessService } from './events/readiness.service.js';
import { FileFolders } from './files/file-folders.js';
import { FileWork } from './files/file-work.js';
import { FilesController } from './files/files.controller.js';
import { FilesService } from './files/files.service.js';
import { UploadsController } from './files/uploads.controller.js';
import { Uploads } from './files/uploads.js';
import { ControlGateway } from './media-link/control-gateway.js';
import { DesiredStateService } from './media-link/desired-state.service.js';
import { Grants } from './media-link/grants.js';
import { LiveFigures } from './media-link/live-figures.js';
import { SignalHistory } from './media-link/signal-history.js';
import { NodeFilmsController } from './media-link/node-films.controller.js';
import { ObservationsService } from './media-link/observations.service.js';
import { MediaNodes } from './nodes/media-nodes.js';
import { NodeWatch } from './nodes/node-watch.js';
import { Placement } from './nodes/placement.js';
import { PointsController } from './nodes/points.controller.js';
import { Credentials } from './people/credentials.js';
import { SessionController } from './people/session.controller.js';
import { AccessGuard } from './platform/access.js';
import { Clock } from './platform/clock.js';
import { CONFIG, type ServerConfig } from './platform/config.js';
import { DatabaseWatch } from './platform/database-watch.js';
import { Database } from './platform/database.js';
import { HappeningFeed } from './platform/happening-feed.js';
import { HealthController } from './platform/health.controller.js';
import { ProblemFilter } from './platform/problems.js';
import { Secrets } from './platform/secrets.js';
import { PublicChannelsController } from './public/public-channels.controller.js';
import { PublicChannelsService } from './public/public-channels.service.js';
import { PublicController } from './public/public.controller.js';
import { PublicEventsService } from './public/public-events.service.js';
import { PushService } from './push/push.service.js';
import { RecordingsController } from './recordings/recordings.controller.js';
import { RecordingsService } from './recordings/recordings.service.js';
import { SeriesController } from './series/series.controller.js';
import { SeriesPlanner } from './series/series-planner.js';
import { SeriesService } from './series/series.service.js';
import { BoxesController } from './boxes/boxes.controller.js';
import { BoxesService } from './boxes/boxes.service.js';
import { DeviceGrantController } from './boxes/device-grant.controller.js';
import { PairingsService } from './boxes/pairings.service.js';
import { LinesController } from './sources/lines.controller.js';
import { LinesService } from './sources/lines.service.js';
import { PublicGuestsController, PublicGuestsService } from './public/public-guests.controller.js';
import { SrtLines } from './sources/srt-lines.js';
import { SourcesController } from './sources/sources.controller.js';
import { SourcesService } from './sources/sources.service.js';

/** What has to be open before the module can stand. */
export interface Opened {
  readonly config: ServerConfig;
  readonly dataSource: DataSource;
  readonly secrets: Secrets;
}

@Module({})
export class AppModule {
  static with({ config, dataSource, secrets }: Opened): DynamicModule {
    return {
      module: AppModule,
      imports: [DiscoveryModule],
      controllers: [
        HealthController,
        SessionController,
        EventsController,
        RehearsalsController,
        SeriesController,
        OrderController,
        SourcesController,
        LinesController,
        BoxesController,
        DeviceGrantController,
        PublicGuestsController,
        DestinationsController,
        RecordingsController,
        ChatController,
        PublicController,
        PeopleController,
        OwnAccessController,
        HouseController,
        ActivityController,
        CalendarsController,
        ChannelsController,
        FilesController,
        NodeFilmsController,
        PointsController,
        UploadsController,
        PublicChannelsController,
        DutiesController,
        OwnLettersController,
        HouseCalendarController,
        OEmbedController,
        OpenApiController,
        MetricsController,
      ],
      providers: [
        { provide: CONFIG, useValue: config },
        { provide: DataSource, useValue: dataSource },
        { provide: Secrets, useValue: secrets },
        { provide: APP_GUARD, useClass: AccessGuard },
        { provide: APP_FILTER, useClass: ProblemFilter },
        Clock,
        DatabaseWatch,
        HappeningFeed,
        Database,
        UndoRegistry,
        Credentials,
        PostOffice,
        PeopleService,
        InvitationsService,
        SecondFactor,
        CalendarsService,
        ChannelsService,
        FileFolders,
        FilesService,
        FileWork,
        Uploads,
        PublicChannelsService,
        CalendarImportService,
        DutiesService,
        DutyAnswers,
        DutyLetters,
        MorningLetters,
        HouseService,
        ActivityRecord,
        ServerMetrics,
        Posters,
        ReadinessService,
        EventViews,
        EventLists,
        EventsService,
        RehearsalsService,
        RemediesService,
        EventLifeService,
        SeriesService,
        SeriesPlanner,
        SourcesService,
        SrtLines,
        LinesService,
        BoxesService,
        PairingsService,
        PublicGuestsService,
        DestinationSecrets,
        DestinationsService,
        RecordingsService,
        Housekeeper,
        ChatBatches,
        ChatModerationService,
        ChatService,
        PublicEventsService,
        OrderService,
        PushService,
        Grants,
        SignalHistory,
        LiveFigures,
        MediaNodes,
        NodeWatch,
        Placement,
        DesiredStateService,
        ObservationsService,
        ControlGateway,
      ],
    };
  }
}
