import { Controller, Delete, Get, Headers, HttpCode, Patch, Post, Put } from '@nestjs/common';
import type { Page } from '@heliphon/contracts/problem';
import type {
  AddSource,
  AdviseSource,
  EditSource,
  SourceHappening,
  SourceKey,
  SourceView,
} from '@heliphon/contracts/sources';
import { addSourceSchema, adviseSourceSchema, editSourceSchema } from '@heliphon/contracts/sources.schema';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { ActivityRecord } from '../activity/activity-record.js';
import { SourcesService } from './sources.service.js';

@Controller('api/sources')
export class SourcesController {
  constructor(
    private readonly sources: SourcesService,
    private readonly record: ActivityRecord,
  ) {}

  @Get()
  @Needs('sources.read')
  list(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<SourceView>> {
    return this.sources.list(ctx, page);
  }

  @Get(':id/history')
  @Needs('sources.read')
  history(@Ctx() ctx: Context, @Id() id: string, @Paging() page: PageWish): Promise<Page<SourceHappening>> {
    return this.record.ofSource(ctx, id, page);
  }

  @Post()
  @Needs('sources.edit')
  add(@Ctx() ctx: Context, @Checked(addSourceSchema) wish: AddSource): Promise<SourceView> {
    return this.sources.add(ctx, wish);
  }

  @Patch(':id')
  @Needs('sources.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editSourceSchema) change: EditSource,
  ): Promise<SourceView> {
    return this.sources.edit(ctx, id, version, change);
  }

  @Put(':id/advice')
  @Needs('sources.connect')
  advise(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(adviseSourceSchema) wish: AdviseSource,
  ): Promise<SourceView> {
    return this.sources.advise(ctx, id, wish);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('sources.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.sources.remove(ctx, id);
  }

  @Get(':id/key')
  @Needs('keys.read')
  key(@Ctx() ctx: Context, @Id() id: string, @Headers('host') host: string): Promise<SourceKey> {
    return this.sources.key(ctx, id, host);
  }

  @Post(':id/renew-key')
  @HttpCode(200)
  @Needs('keys.renew')
  renewKey(@Ctx() ctx: Context, @Id() id: string): Promise<SourceView> {
    return this.sources.renewKey(ctx, id);
  }
}
