import { Module } from '@nestjs/common';
import { CalendarsModule } from '../calendars/calendars.module.js';
import { ChatModule } from '../chat/chat.module.js';
import { LiveModule } from '../live/live.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { WatchingModule } from '../watching/watching.module.js';
import { LanguagesModule } from '../languages/languages.module.js';
import { WebsitesModule } from '../websites/websites.module.js';
import { SignalModule } from '../signal/signal.module.js';
import { OrderModule } from '../order/order.module.js';
import { OEmbedController } from './oembed.controller.js';
import { PublicChannelsController } from './public-channels.controller.js';
import { PublicChannelsService } from './public-channels.service.js';
import { PublicEventsService } from './public-events.service.js';
import { PublicGuestsController, PublicGuestsService } from './public-guests.controller.js';
import { PublicController } from './public.controller.js';
import { SeenAsController } from './seen-as.controller.js';
import { Sitemap } from './sitemap.js';
import { SiteSightings } from './site-sightings.js';

/** What anybody may ask: pages, embeds, public state. */
@Module({
  imports: [
    LiveModule,
    NodesModule,
    OrderModule,
    ChatModule,
    CalendarsModule,
    WatchingModule,
    WebsitesModule,
    LanguagesModule,
    SignalModule,
  ],
  controllers: [
    OEmbedController,
    PublicChannelsController,
    PublicController,
    PublicGuestsController,
    SeenAsController,
  ],
  providers: [PublicChannelsService, PublicEventsService, PublicGuestsService, Sitemap, SiteSightings],
  exports: [PublicEventsService],
})
export class PublicModule {}
