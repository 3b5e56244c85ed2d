import { Controller, Get, Inject, Param, Query, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import type { PublicChannel, PublicReplay } from '@heliphon/contracts/channels';
import type { Page } from '@heliphon/contracts/problem';
import { publicUrlOf } from '../platform/public-url.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Needs } from '../platform/need.js';
import { PublicChannelsService } from './public-channels.service.js';

/** What anybody may ask of a channel. */
@Controller('api/public/channels/:slug')
export class PublicChannelsController {
  constructor(
    private readonly channels: PublicChannelsService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get()
  @Needs('public')
  get(@Param('slug') slug: string): Promise<PublicChannel> {
    return this.channels.get(slug);
  }

  @Get('replays')
  @Needs('public')
  replays(@Param('slug') slug: string, @Query('after') after?: string): Promise<Page<PublicReplay>> {
    return this.channels.replays(slug, after ?? null);
  }

  /** For anybody's calendar program; it asks again by itself. */
  @Get('calendar.ics')
  @Needs('public')
  async calendar(
    @Param('slug') slug: string,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<string> {
    const text = await this.channels.calendar(slug, publicUrlOf(this.config, request));
    response.type('text/calendar; charset=utf-8').set('Cache-Control', 'public, max-age=300');
    return text;
  }
}
