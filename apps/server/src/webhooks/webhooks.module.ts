import { Module } from '@nestjs/common';
import { WebhookSender } from './webhook-sender.js';
import { WebhooksController } from './webhooks.controller.js';
import { WebhooksService } from './webhooks.service.js';

/** Posts what happens in a house to an address that the house has given. */
@Module({
  controllers: [WebhooksController],
  providers: [WebhooksService, WebhookSender],
})
export class WebhooksModule {}
