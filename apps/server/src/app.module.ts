import { type DynamicModule, Module } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, DiscoveryModule } from '@nestjs/core';
import { AccountsModule } from './accounts/accounts.module.js';
import { ActivityModule } from './activity/activity.module.js';
import { ApiDescriptionModule } from './api-description/api-description.module.js';
import { BoxesModule } from './boxes/boxes.module.js';
import { CalendarsModule } from './calendars/calendars.module.js';
import { ChannelsModule } from './channels/channels.module.js';
import { ChatModule } from './chat/chat.module.js';
import { ConnectorsModule } from './connectors/connectors.module.js';
import { DeskModule } from './desk/desk.module.js';
import { DestinationsModule } from './destinations/destinations.module.js';
import { DutiesModule } from './duties/duties.module.js';
import { EventsModule } from './events/events.module.js';
import { FilesModule } from './files/files.module.js';
import { HouseModule } from './house/house.module.js';
import { LettersModule } from './letters/letters.module.js';
import { LiveModule } from './live/live.module.js';
import { LooksModule } from './looks/looks.module.js';
import { MediaLinkModule } from './media-link/media-link.module.js';
import { MetricsModule } from './metrics/metrics.module.js';
import { MorningsModule } from './mornings/mornings.module.js';
import { NodesModule } from './nodes/nodes.module.js';
import { NotesModule } from './notes/notes.module.js';
import { OrderModule } from './order/order.module.js';
import { PeopleModule } from './people/people.module.js';
import { PostingsModule } from './postings/postings.module.js';
import { PublicModule } from './public/public.module.js';
import { PushModule } from './push/push.module.js';
import { RecordingsModule } from './recordings/recordings.module.js';
import { SeriesModule } from './series/series.module.js';
import { SignalModule } from './signal/signal.module.js';
import { SlatesModule } from './slates/slates.module.js';
import { SourcesModule } from './sources/sources.module.js';
import { WatchingModule } from './watching/watching.module.js';
import { LanguagesModule } from './languages/languages.module.js';
import { WebsitesModule } from './websites/websites.module.js';
import { WebhooksModule } from './webhooks/webhooks.module.js';
import { AccessGuard } from './platform/access.js';
import { type Opened, PlatformModule } from './platform/platform.module.js';
import { ProblemFilter } from './platform/problems.js';

/** Every domain, the lower ones first: .dependency-cruiser.cjs has which may use which. */
const DOMAINS = [
  LiveModule,
  LettersModule,
  NodesModule,
  PeopleModule,
  ActivityModule,
  FilesModule,
  SlatesModule,
  LooksModule,
  LanguagesModule,
  WatchingModule,
  WebsitesModule,
  NotesModule,
  DeskModule,
  OrderModule,
  ChatModule,
  DestinationsModule,
  ConnectorsModule,
  AccountsModule,
  PostingsModule,
  SourcesModule,
  BoxesModule,
  EventsModule,
  ChannelsModule,
  RecordingsModule,
  SeriesModule,
  CalendarsModule,
  DutiesModule,
  SignalModule,
  WebhooksModule,
  MorningsModule,
  HouseModule,
  MediaLinkModule,
  MetricsModule,
  PublicModule,
  PushModule,
  ApiDescriptionModule,
];

@Module({})
export class AppModule {
  static with(opened: Opened): DynamicModule {
    return {
      module: AppModule,
      imports: [DiscoveryModule, PlatformModule.with(opened), ...DOMAINS],
      providers: [
        { provide: APP_GUARD, useClass: AccessGuard },
        { provide: APP_FILTER, useClass: ProblemFilter },
      ],
    };
  }
}
