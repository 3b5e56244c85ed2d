import { Controller, Delete, Get, HttpCode, Param, Patch, Post, Put } from '@nestjs/common';
import { isDay } from '@heliphon/core/schedule/civil-time';
import type { ChoosePoster } from '@heliphon/contracts/files';
import { choosePosterSchema } from '@heliphon/contracts/files.schema';
import type { Page } from '@heliphon/contracts/problem';
import type {
  EditSeries,
  PlanSeries,
  PreviewSeries,
  SeriesPreview,
  SeriesView,
  SpreadChange,
} from '@heliphon/contracts/series';
import {
  editSeriesSchema,
  planSeriesSchema,
  previewSeriesSchema,
  spreadChangeSchema,
} from '@heliphon/contracts/series.schema';
import { FilesService } from '../files/files.service.js';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import { refusedField } from '../platform/problems.js';
import { SeriesService } from './series.service.js';

/** What repeats: its rule, its dates, and what they take from it. */
@Controller('api')
export class SeriesController {
  constructor(
    private readonly series: SeriesService,
    private readonly files: FilesService,
  ) {}

  @Get('series')
  @Needs('events.read')
  list(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<SeriesView>> {
    return this.series.list(ctx, page);
  }

  @Post('series')
  @Needs('events.edit')
  plan(@Ctx() ctx: Context, @Checked(planSeriesSchema) wish: PlanSeries): Promise<SeriesView> {
    return this.series.plan(ctx, wish);
  }

  @Post('series/preview')
  @HttpCode(200)
  @Needs('events.read')
  preview(@Ctx() ctx: Context, @Checked(previewSeriesSchema) wish: PreviewSeries): Promise<SeriesPreview> {
    return this.series.preview(ctx, wish);
  }

  @Get('series/:id')
  @Needs('events.read')
  get(@Ctx() ctx: Context, @Id() id: string): Promise<SeriesView> {
    return this.series.get(ctx, id);
  }

  @Patch('series/:id')
  @Needs('events.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editSeriesSchema) change: EditSeries,
  ): Promise<SeriesView> {
    return this.series.edit(ctx, id, version, change);
  }

  @Post('series/:id/poster-from-files')
  @HttpCode(200)
  @Needs('events.edit')
  async choosePoster(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(choosePosterSchema) { fileId }: ChoosePoster,
  ): Promise<SeriesView> {
    await this.series.get(ctx, id);
    return this.series.setPoster(ctx, id, await this.files.asPoster(ctx, fileId));
  }

  @Delete('series/:id/poster')
  @HttpCode(200)
  @Needs('events.edit')
  removePoster(@Ctx() ctx: Context, @Id() id: string): Promise<SeriesView> {
    return this.series.setPoster(ctx, id, null);
  }

  @Put('series/:id/skips/:date')
  @Needs('events.edit')
  skip(@Ctx() ctx: Context, @Id() id: string, @Param('date') date: string): Promise<SeriesView> {
    return this.series.setSkipped(ctx, id, checkedDate(date), true);
  }

  @Delete('series/:id/skips/:date')
  @Needs('events.edit')
  takeUp(@Ctx() ctx: Context, @Id() id: string, @Param('date') date: string): Promise<SeriesView> {
    return this.series.setSkipped(ctx, id, checkedDate(date), false);
  }

  @Post('events/:id/spread')
  @HttpCode(200)
  @Needs('events.edit')
  spread(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(spreadChangeSchema) wish: SpreadChange,
  ): Promise<SeriesView> {
    return this.series.spread(ctx, id, wish);
  }
}

function checkedDate(date: string): string {
  if (!isDay(date)) throw refusedField('date', 'no-such-date');
  return date;
}
