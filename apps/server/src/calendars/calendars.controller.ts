import { Controller, Delete, Get, HttpCode, Inject, Param, Post, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import type { OwnCalendar } from '@heliphon/contracts/calendars';
import { publicUrlOf } from '../people/public-url.js';
import { type HeliphonRequest } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Needs } from '../platform/need.js';
import { notFound } from '../platform/problems.js';
import { CalendarsService } from './calendars.service.js';

const FILE = /^([0-9a-z]{32})\.ics$/;

/** One's own calendar address, and the calendar behind it, which knows its reader by the address alone. */
@Controller()
export class CalendarsController {
  constructor(
    private readonly calendars: CalendarsService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get('api/own/calendar')
  @Needs('own-session')
  async own(@Req() request: HeliphonRequest): Promise<OwnCalendar> {
    const secret = await this.calendars.secretOf(request.signedIn!, 'house');
    return { address: secret && this.#addressOf(secret, request) };
  }

  @Post('api/own/calendar')
  @HttpCode(200)
  @Needs('own-session')
  async renew(@Req() request: HeliphonRequest): Promise<OwnCalendar> {
    return { address: this.#addressOf(await this.calendars.renew(request.signedIn!, 'house'), request) };
  }

  @Delete('api/own/calendar')
  @HttpCode(204)
  @Needs('own-session')
  end(@Req() { signedIn }: HeliphonRequest): Promise<void> {
    return this.calendars.end(signedIn!);
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
