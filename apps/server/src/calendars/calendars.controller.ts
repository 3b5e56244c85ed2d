import {
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  ParseUUIDPipe,
  Post,
  Query,
  Req,
  Res,
} from '@nestjs/common';
import type { Request, Response } from 'express';
import type { OwnCalendar } from '@heliphon/contracts/calendars';
import { publicUrlOf } from '../platform/public-url.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { Ctx, type HeliphonRequest } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { type Context, Database } from '../platform/database.js';
import { Needs } from '../platform/need.js';
import { notFound } from '../platform/problems.js';
import { CalendarsService, HOUSE_PLAN, type Shown } from './calendars.service.js';

const OPTIONAL_ID = new ParseUUIDPipe({ optional: true });
const shown = (channelId: string | undefined): Shown =>
  channelId ? { kind: 'channel', about: channelId } : HOUSE_PLAN;
const FILE = /^([0-9a-z]{32})\.ics$/;

/** One's own calendar address, and the calendar behind it, which knows its reader by the address alone. */
@Controller()
export class CalendarsController {
  constructor(
    private readonly calendars: CalendarsService,
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get('api/own/calendar')
  @Needs('own-session')
  async own(
    @Req() request: HeliphonRequest,
    @Query('channelId', OPTIONAL_ID) channelId?: string,
  ): Promise<OwnCalendar> {
    const secret = await this.calendars.secretOf(request.signedIn!, shown(channelId));
    return { address: secret && this.#addressOf(secret, request) };
  }

  @Post('api/own/calendar')
  @HttpCode(200)
  @Needs('own-session')
  async renew(
    @Ctx() ctx: Context,
    @Req() request: HeliphonRequest,
    @Query('channelId', OPTIONAL_ID) channelId?: string,
  ): Promise<OwnCalendar> {
    if (channelId) await this.database.house(ctx).get(ChannelEntity, channelId, 'channel');
    const secret = await this.calendars.renew(request.signedIn!, shown(channelId));
    return { address: this.#addressOf(secret, request) };
  }

  @Delete('api/own/calendar')
  @HttpCode(204)
  @Needs('own-session')
  end(
    @Req() { signedIn }: HeliphonRequest,
    @Query('channelId', OPTIONAL_ID) channelId?: string,
  ): Promise<void> {
    return this.calendars.end(signedIn!, shown(channelId));
  }

  @Get('calendar/:file')
  @Needs('public')
  async read(
    @Param('file') file: string,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<string> {
    const [, secret] = FILE.exec(file) ?? [];
    if (!secret) throw notFound('calendar');
    const text = await this.calendars.read(secret, publicUrlOf(this.config, request));
    response.type('text/calendar; charset=utf-8').set('Cache-Control', 'private, no-cache');
    return text;
  }

  #addressOf(secret: string, request: Request): string {
    return `${publicUrlOf(this.config, request)}/calendar/${secret}.ics`;
  }
}
