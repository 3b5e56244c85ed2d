import {
  Controller,
  Delete,
  Get,
  Headers,
  HttpCode,
  Inject,
  Param,
  ParseUUIDPipe,
  Post,
  Query,
  Req,
} from '@nestjs/common';
import type { Request } from 'express';
import type { AddGuestLink, GuestLink, SendingLine } from '@heliphon/contracts/lines';
import { addGuestLinkSchema } from '@heliphon/contracts/lines.schema';
import type { Page } from '@heliphon/contracts/problem';
import { publicUrlOf } from '../people/public-url.js';
import { Ctx } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { pageQuery } from '../platform/query.js';
import { LinesService } from './lines.service.js';

/** Ways for browsers to send to a source. */
@Controller('api')
export class LinesController {
  constructor(
    private readonly lines: LinesService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Post('sources/:id/lines')
  @Needs('sources.connect')
  own(
    @Ctx() ctx: Context,
    @Param('id', ParseUUIDPipe) id: string,
    @Headers('host') host: string,
  ): Promise<SendingLine> {
    return this.lines.own(ctx, id, host);
  }

  @Get('sources/:id/guests')
  @Needs('sources.connect')
  list(
    @Ctx() ctx: Context,
    @Param('id', ParseUUIDPipe) id: string,
    @Req() request: Request,
    @Query('after') after?: string,
    @Query('limit') limit?: string,
  ): Promise<Page<GuestLink>> {
    return this.lines.list(ctx, id, pageQuery(after, limit), publicUrlOf(this.config, request));
  }

  @Post('sources/:id/guests')
  @Needs('sources.connect')
  invite(
    @Ctx() ctx: Context,
    @Param('id', ParseUUIDPipe) id: string,
    @Checked(addGuestLinkSchema) wish: AddGuestLink,
    @Req() request: Request,
  ): Promise<GuestLink> {
    return this.lines.invite(ctx, id, wish, publicUrlOf(this.config, request));
  }

  @Delete('guests/:id')
  @HttpCode(204)
  @Needs('sources.connect')
  withdraw(@Ctx() ctx: Context, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.lines.withdraw(ctx, id);
  }
}
