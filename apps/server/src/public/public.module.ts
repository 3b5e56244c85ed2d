import { Module } from '@nestjs/common';
import { CalendarsModule } from '../calendars/calendars.module.js';
import { ChatModule } from '../chat/chat.module.js';
import { LiveModule } from '../live/live.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { OrderModule } from '../order/order.module.js';
import { OEmbedController } from './oembed.controller.js';
import { PublicChannelsController } from './public-channels.controller.js';
import { PublicChannelsService } from './public-channels.service.js';
import { PublicEventsService } from './public-events.service.js';
import { PublicGuestsController, PublicGuestsService } from './public-guests.controller.js';
import { PublicController } from './public.controller.js';
import { SiteSightings } from './site-sightings.js';

/** What anybody may ask: pages, embeds, public state. */
@Module({
  imports: [LiveModule, NodesModule, OrderModule, ChatModule, CalendarsModule],
  controllers: [OEmbedController, PublicChannelsController, PublicController, PublicGuestsController],
  providers: [PublicChannelsService, PublicEventsService, PublicGuestsService, SiteSightings],
  exports: [PublicEventsService],
})
export class PublicModule {}
