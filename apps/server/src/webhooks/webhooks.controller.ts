import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { Page } from '@heliphon/contracts/problem';
import type {
  SetWebhook,
  WebhookDeliveryView,
  WebhookSecret,
  WebhookView,
} from '@heliphon/contracts/webhooks';
import { setWebhookSchema } from '@heliphon/contracts/webhooks.schema';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Paging } from '../platform/parameters.js';
import { WebhooksService } from './webhooks.service.js';

/** An address that is told what happens in a house. */
@Controller('api/house/webhook')
export class WebhooksController {
  constructor(private readonly webhooks: WebhooksService) {}

  @Get()
  @Needs('house.edit')
  get(@Ctx() ctx: Context): Promise<WebhookView> {
    return this.webhooks.get(ctx);
  }

  @Put()
  @Needs('house.edit')
  set(@Ctx() ctx: Context, @Checked(setWebhookSchema) wish: SetWebhook): Promise<WebhookView> {
    return this.webhooks.set(ctx, wish);
  }

  @Delete()
  @HttpCode(204)
  @Needs('house.edit')
  remove(@Ctx() ctx: Context): Promise<void> {
    return this.webhooks.remove(ctx);
  }

  @Post('secret')
  @HttpCode(200)
  @Needs('house.edit')
  renewSecret(@Ctx() ctx: Context): Promise<WebhookSecret> {
    return this.webhooks.renewSecret(ctx);
  }

  @Post('try')
  @HttpCode(204)
  @Needs('house.edit')
  tryOut(@Ctx() ctx: Context): Promise<void> {
    return this.webhooks.tryOut(ctx);
  }

  @Get('deliveries')
  @Needs('house.edit')
  deliveries(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<WebhookDeliveryView>> {
    return this.webhooks.deliveries(ctx, page);
  }
}
