import { Controller, Get, HttpCode, Inject, Param, Post, Req } from '@nestjs/common';
import type { Request } from 'express';
import type { AnswerDuty, OwnDuties } from '@heliphon/contracts/duties';
import { answerDutySchema } from '@heliphon/contracts/duties.schema';
import { publicUrlOf } from '../platform/public-url.js';
import { Ctx } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { CalendarsService, OWN_DUTIES } from '../calendars/calendars.service.js';
import { DutyAnswers } from './duty-answers.js';
import { DutiesService } from './duties.service.js';

/** One's own duties: signed in, or by the private address of a letter, which only a press answers and no look. */
@Controller('api')
export class DutiesController {
  constructor(
    private readonly duties: DutiesService,
    private readonly answers: DutyAnswers,
    private readonly calendars: CalendarsService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get('own/duties')
  @Needs('own-session')
  own(@Ctx() ctx: Context, @Req() request: Request): Promise<OwnDuties> {
    return this.duties.own(ctx, publicUrlOf(this.config, request));
  }

  @Post('own/duties')
  @HttpCode(200)
  @Needs('own-session')
  async answer(
    @Ctx() ctx: Context,
    @Req() request: Request,
    @Checked(answerDutySchema) wish: AnswerDuty,
  ): Promise<OwnDuties> {
    await this.answers.answer(ctx, wish);
    return this.duties.own(ctx, publicUrlOf(this.config, request));
  }

  /** A new address; letters sent before lead nowhere from now on. */
  @Post('own/duties/address')
  @HttpCode(200)
  @Needs('own-session')
  async renew(@Ctx() ctx: Context, @Req() request: Request): Promise<OwnDuties> {
    await this.calendars.renew({ personId: ctx.by, houseId: ctx.houseId }, OWN_DUTIES);
    return this.duties.own(ctx, publicUrlOf(this.config, request));
  }

  @Get('duties/:secret')
  @Needs('public')
  async read(@Param('secret') secret: string, @Req() request: Request): Promise<OwnDuties> {
    return this.duties.own(await this.duties.actorOf(secret), publicUrlOf(this.config, request));
  }

  @Post('duties/:secret')
  @HttpCode(200)
  @Needs('public')
  async answerByLetter(
    @Param('secret') secret: string,
    @Req() request: Request,
    @Checked(answerDutySchema) wish: AnswerDuty,
  ): Promise<OwnDuties> {
    const ctx = await this.duties.actorOf(secret);
    await this.answers.answer(ctx, wish);
    return this.duties.own(ctx, publicUrlOf(this.config, request));
  }
}
