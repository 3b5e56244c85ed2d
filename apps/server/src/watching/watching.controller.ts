import {
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  Req,
} from '@nestjs/common';
import type { Request } from 'express';
import type { Level } from '@heliphon/core/inherited';
import type { Page } from '@heliphon/contracts/problem';
import type {
  InvitedView,
  InviteOutcome,
  InviteWish,
  SetWatching,
  WatchingView,
  WatchPassword,
} from '@heliphon/contracts/watching';
import {
  inviteSchema,
  levelSchema,
  setWatchingSchema,
  watchPasswordSchema,
} from '@heliphon/contracts/watching.schema';
import { Ctx } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { type Context, mayDo, type PageWish } from '../platform/database.js';
import { Checked, JoiPipe } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import { ProblemError } from '../platform/problems.js';
import { letterUrlOf, publicUrlOf } from '../platform/public-url.js';
import { InvitedService } from './invited.service.js';
import { WatchingService } from './watching.service.js';
import { WatchPasswordsService } from './watch-passwords.service.js';

const AtLevel = (): ParameterDecorator => Param('level', new JoiPipe(levelSchema));
const OfInvited = (): ParameterDecorator => Param('invited', ParseUUIDPipe);

/** Who may watch, at each level: `house`, `channel`, `series` or `event`, and the id of that. */
@Controller('api/watching/:level/:id')
export class WatchingController {
  constructor(
    private readonly watching: WatchingService,
    private readonly passwords: WatchPasswordsService,
    private readonly invited: InvitedService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get()
  @Needs('events.read')
  of(@Ctx() ctx: Context, @AtLevel() level: Level, @Id() id: string): Promise<WatchingView> {
    return this.watching.of(ctx, level, id);
  }

  @Put()
  @Needs('events.edit')
  set(
    @Ctx() ctx: Context,
    @AtLevel() level: Level,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(setWatchingSchema) { own }: SetWatching,
  ): Promise<WatchingView> {
    requireEdit(ctx, level);
    return this.watching.set(ctx, level, id, version, own);
  }

  @Get('password')
  @Needs('events.edit')
  password(@Ctx() ctx: Context, @AtLevel() level: Level, @Id() id: string): Promise<WatchPassword> {
    requireEdit(ctx, level);
    return this.passwords.read(ctx, level, id);
  }

  @Put('password')
  @HttpCode(204)
  @Needs('events.edit')
  setPassword(
    @Ctx() ctx: Context,
    @AtLevel() level: Level,
    @Id() id: string,
    @Checked(watchPasswordSchema) { password }: WatchPassword,
  ): Promise<void> {
    requireEdit(ctx, level);
    return this.passwords.set(ctx, level, id, password);
  }

  @Delete('password')
  @HttpCode(204)
  @Needs('events.edit')
  removePassword(@Ctx() ctx: Context, @AtLevel() level: Level, @Id() id: string): Promise<void> {
    requireEdit(ctx, level);
    return this.passwords.remove(ctx, level, id);
  }

  @Get('invited')
  @Needs('events.edit')
  list(
    @Ctx() ctx: Context,
    @AtLevel() level: Level,
    @Id() id: string,
    @Paging() page: PageWish,
  ): Promise<Page<InvitedView>> {
    requireEdit(ctx, level);
    return this.invited.list(ctx, level, id, page);
  }

  @Post('invited')
  @HttpCode(200)
  @Needs('events.edit')
  invite(
    @Ctx() ctx: Context,
    @AtLevel() level: Level,
    @Id() id: string,
    @Checked(inviteSchema) wish: InviteWish,
    @Req() request: Request,
  ): Promise<InviteOutcome> {
    requireEdit(ctx, level);
    const url = wish.sendsLetters ? letterUrlOf(this.config, request) : publicUrlOf(this.config, request);
    return this.invited.invite(ctx, level, id, wish, url);
  }

  @Get('invited/:invited/link')
  @Needs('events.edit')
  async link(
    @Ctx() ctx: Context,
    @AtLevel() level: Level,
    @Id() id: string,
    @OfInvited() invitedId: string,
    @Req() request: Request,
  ): Promise<{ url: string }> {
    requireEdit(ctx, level);
    return { url: await this.invited.link(ctx, level, id, invitedId, publicUrlOf(this.config, request)) };
  }

  @Delete('invited/:invited')
  @HttpCode(204)
  @Needs('events.edit')
  withdraw(
    @Ctx() ctx: Context,
    @AtLevel() level: Level,
    @Id() id: string,
    @OfInvited() invitedId: string,
  ): Promise<void> {
    requireEdit(ctx, level);
    return this.invited.withdraw(ctx, level, id, invitedId);
  }
}

/** What goes for the whole house is for its owners to say. */
function requireEdit(ctx: Context, level: Level): void {
  if (level === 'house' && !mayDo(ctx, 'house.edit'))
    throw new ProblemError(403, 'not-allowed', { need: 'house.edit' });
}
