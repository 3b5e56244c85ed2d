import { Controller, Delete, Get, Headers, HttpCode, Patch, Post } from '@nestjs/common';
import type { BoxOrders, BoxView, EditBox, PairBox } from '@heliphon/contracts/boxes';
import { boxReportSchema, editBoxSchema, pairBoxSchema } from '@heliphon/contracts/boxes.schema';
import type { Page } from '@heliphon/contracts/problem';
import type { BoxReport } from '@heliphon/core/pairing/device-grant';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import { ProblemError } from '../platform/problems.js';
import { BoxesService } from './boxes.service.js';

/** Encoder boxes: for people of the house, and, at `report`, for the boxes themselves. */
@Controller('api/boxes')
export class BoxesController {
  constructor(private readonly boxes: BoxesService) {}

  @Get()
  @Needs('sources.read')
  list(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<BoxView>> {
    return this.boxes.list(ctx, page);
  }

  @Post()
  @Needs('sources.edit')
  pair(@Ctx() ctx: Context, @Checked(pairBoxSchema) wish: PairBox): Promise<BoxView> {
    return this.boxes.pair(ctx, wish);
  }

  /** A box shows its own token, and is nobody of the house. */
  @Post('report')
  @HttpCode(200)
  @Needs('public')
  report(
    @Headers('authorization') authorization: string | undefined,
    @Headers('host') host: string,
    @Checked(boxReportSchema) report: BoxReport,
  ): Promise<BoxOrders> {
    const [, token] = /^Bearer (\S{20,100})$/.exec(authorization ?? '') ?? [];
    if (!token) throw new ProblemError(401, 'not-signed-in');
    return this.boxes.report(token, report, host);
  }

  @Patch(':id')
  @Needs('sources.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editBoxSchema) change: EditBox,
  ): Promise<BoxView> {
    return this.boxes.edit(ctx, id, version, change);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('sources.edit')
  letGo(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.boxes.letGo(ctx, id);
  }
}
