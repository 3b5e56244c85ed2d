import { Controller, Delete, Get, HttpCode, Inject, Param, ParseUUIDPipe, Post, Req } from '@nestjs/common';
import type { Request } from 'express';
import type { CheckWebsite, ShownLevel, WebsitesView } from '@heliphon/contracts/websites';
import { checkWebsiteSchema, shownLevelSchema } from '@heliphon/contracts/websites.schema';
import { Ctx } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import type { Context } from '../platform/database.js';
import { Checked, JoiPipe } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { publicUrlOf } from '../platform/public-url.js';
import { WebsitesService } from './websites.service.js';

const AtLevel = (): ParameterDecorator => Param('level', new JoiPipe(shownLevelSchema));

@Controller('api/websites/:level/:id')
export class WebsitesController {
  constructor(
    private readonly websites: WebsitesService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get()
  @Needs('events.read')
  list(@Ctx() ctx: Context, @AtLevel() level: ShownLevel, @Id() id: string): Promise<WebsitesView> {
    return this.websites.list(ctx, level, id);
  }

  @Post('check')
  @HttpCode(200)
  @Needs('events.edit')
  check(
    @Ctx() ctx: Context,
    @AtLevel() level: ShownLevel,
    @Id() id: string,
    @Checked(checkWebsiteSchema) { address }: CheckWebsite,
    @Req() request: Request,
  ): Promise<WebsitesView> {
    return this.websites.check(ctx, level, id, address, publicUrlOf(this.config, request));
  }

  @Delete(':website')
  @Needs('events.edit')
  forget(
    @Ctx() ctx: Context,
    @AtLevel() level: ShownLevel,
    @Id() id: string,
    @Param('website', ParseUUIDPipe) websiteId: string,
  ): Promise<WebsitesView> {
    return this.websites.forget(ctx, level, id, websiteId);
  }
}
