import { Controller, Delete, Get, Headers, HttpCode, Inject, Post, Req } from '@nestjs/common';
import type { Request } from 'express';
import type { AddGuestLink, GuestLink, SendToken } from '@heliphon/contracts/send-tokens';
import { addGuestLinkSchema } from '@heliphon/contracts/send-tokens.schema';
import type { Page } from '@heliphon/contracts/problem';
import { publicUrlOf } from '../platform/public-url.js';
import { Ctx } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, Paging } from '../platform/parameters.js';
import { SendTokensService } from './send-tokens.service.js';

/** Ways for browsers to send to a source. */
@Controller('api')
export class SendTokensController {
  constructor(
    private readonly sendTokens: SendTokensService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Post('sources/:id/lines')
  @Needs('sources.connect')
  own(@Ctx() ctx: Context, @Id() id: string, @Headers('host') host: string): Promise<SendToken> {
    return this.sendTokens.own(ctx, id, host);
  }

  @Get('sources/:id/guests')
  @Needs('sources.connect')
  list(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Req() request: Request,
    @Paging() page: PageWish,
  ): Promise<Page<GuestLink>> {
    return this.sendTokens.list(ctx, id, page, publicUrlOf(this.config, request));
  }

  @Post('sources/:id/guests')
  @Needs('sources.connect')
  invite(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(addGuestLinkSchema) wish: AddGuestLink,
    @Req() request: Request,
  ): Promise<GuestLink> {
    return this.sendTokens.invite(ctx, id, wish, publicUrlOf(this.config, request));
  }

  @Delete('guests/:id')
  @HttpCode(204)
  @Needs('sources.connect')
  withdraw(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.sendTokens.withdraw(ctx, id);
  }
}
