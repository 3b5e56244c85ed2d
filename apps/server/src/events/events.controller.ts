import { Controller, Delete, Get, Headers, HttpCode, Patch, Post, UploadedFile } from '@nestjs/common';
import type { CommandKind } from '@heliphon/core/schedule/event-life';
import type {
  CancelEvent,
  ChooseEnd,
  ChooseFeed,
  DeskView,
  EditEvent,
  EventGlance,
  EventQuery,
  EventView,
  MoveEvent,
  PlanEvent,
  ReadinessView,
  RemediesView,
} from '@heliphon/contracts/events';
import {
  cancelEventSchema,
  chooseEndSchema,
  chooseFeedSchema,
  editEventSchema,
  eventQuerySchema,
  moveEventSchema,
  planEventSchema,
} from '@heliphon/contracts/events.schema';
import type { ChoosePoster } from '@heliphon/contracts/files';
import { choosePosterSchema } from '@heliphon/contracts/files.schema';
import type { Page } from '@heliphon/contracts/problem';
import { FilesService } from '../files/files.service.js';
import { Grants } from '../nodes/grants.js';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Filter, Id, KnownVersion, Paging } from '../platform/parameters.js';
import { type Context, Database, type PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { instantQuery } from '../platform/query.js';
import { EventEntity } from '../tables/event.entity.js';
import { type EventList, EventLists } from './event-lists.js';
import { EventLifeService } from './event-life.service.js';
import { EventsService } from './events.service.js';
import { RemediesService } from './remedies.service.js';
import { Posters } from '../files/posters.js';
import { TakesPoster, type UploadedPoster } from '../files/takes-poster.js';

@Controller('api/events')
export class EventsController {
  constructor(
    private readonly events: EventsService,
    private readonly lists: EventLists,
    private readonly life: EventLifeService,
    private readonly remedies: RemediesService,
    private readonly posters: Posters,
    private readonly files: FilesService,
    private readonly grants: Grants,
    private readonly database: Database,
  ) {}

  @Get()
  @Needs('events.read')
  list(
    @Ctx() ctx: Context,
    @Filter(eventQuerySchema) query: EventQuery,
    @Paging() page: PageWish,
  ): Promise<Page<EventView>> {
    return this.lists.list(ctx, wished(query), page);
  }

  @Get('glance')
  @Needs('events.read')
  glance(
    @Ctx() ctx: Context,
    @Filter(eventQuerySchema) query: EventQuery,
    @Paging() page: PageWish,
  ): Promise<Page<EventGlance>> {
    return this.lists.glance(ctx, wished(query), page);
  }

  @Post()
  @Needs('events.edit')
  plan(@Ctx() ctx: Context, @Checked(planEventSchema) wish: PlanEvent): Promise<EventView> {
    return this.events.plan(ctx, wish);
  }

  @Get(':id')
  @Needs('events.read')
  get(@Ctx() ctx: Context, @Id() id: string): Promise<EventView> {
    return this.events.get(ctx, id);
  }

  @Patch(':id')
  @Needs('events.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editEventSchema) change: EditEvent,
  ): Promise<EventView> {
    return this.events.edit(ctx, id, version, change);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('events.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.events.remove(ctx, id);
  }

  @Get(':id/readiness')
  @Needs('events.read')
  async check(@Ctx() ctx: Context, @Id() id: string): Promise<ReadinessView> {
    return { checks: await this.events.checks(ctx, id) };
  }

  @Get(':id/remedies')
  @Needs('events.read')
  remediesOf(@Ctx() ctx: Context, @Id() id: string): Promise<RemediesView> {
    return this.remedies.of(ctx, id);
  }

  @Get(':id/desk')
  @Needs('programme.watch')
  async desk(@Ctx() ctx: Context, @Id() id: string, @Headers('host') host: string): Promise<DeskView> {
    return this.grants.live(await this.database.house(ctx).get(EventEntity, id, 'event'), 'desk', host);
  }

  @Post(':id/feed')
  @HttpCode(200)
  @Needs('events.move')
  chooseFeed(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(chooseFeedSchema) wish: ChooseFeed,
  ): Promise<EventView> {
    return this.events.chooseFeed(ctx, id, wish);
  }

  @Post(':id/open-doors')
  @HttpCode(200)
  @Needs('events.move')
  openDoors(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(moveEventSchema) move: MoveEvent,
  ): Promise<EventView> {
    return this.#move(ctx, id, 'open-doors', move);
  }

  @Post(':id/go-on-air')
  @HttpCode(200)
  @Needs('events.move')
  goOnAir(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(moveEventSchema) move: MoveEvent,
  ): Promise<EventView> {
    return this.#move(ctx, id, 'go-on-air', move);
  }

  @Post(':id/end')
  @HttpCode(200)
  @Needs('events.move')
  end(@Ctx() ctx: Context, @Id() id: string, @Checked(moveEventSchema) move: MoveEvent): Promise<EventView> {
    return this.#move(ctx, id, 'end', move);
  }

  @Post(':id/cancel')
  @HttpCode(200)
  @Needs('events.edit')
  async cancel(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(cancelEventSchema) wish: CancelEvent,
  ): Promise<EventView> {
    await this.life.cancel(ctx, id, wish);
    return this.events.get(ctx, id);
  }

  @Post(':id/reinstate')
  @HttpCode(200)
  @Needs('events.edit')
  async reinstate(@Ctx() ctx: Context, @Id() id: string): Promise<EventView> {
    await this.life.reinstate(ctx, id);
    return this.events.get(ctx, id);
  }

  @Post(':id/planned-end')
  @HttpCode(200)
  @Needs('events.move')
  chooseEnd(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(chooseEndSchema) { wish }: ChooseEnd,
  ): Promise<EventView> {
    return this.events.chooseEnd(ctx, id, wish);
  }

  @Post(':id/skip-film')
  @HttpCode(200)
  @Needs('events.move')
  skipFilm(@Ctx() ctx: Context, @Id() id: string): Promise<EventView> {
    return this.events.skipFilm(ctx, id);
  }

  @TakesPoster('events.edit')
  async setPoster(
    @Ctx() ctx: Context,
    @Id() id: string,
    @UploadedFile() file: UploadedPoster | undefined,
  ): Promise<EventView> {
    await this.database.house(ctx).get(EventEntity, id, 'event');
    const posterId = await this.posters.keep(file?.buffer);
    if (file) await this.files.addPicture(ctx, posterId, file.originalname, file.buffer);
    return this.events.setPoster(ctx, id, posterId);
  }

  @Post(':id/poster-from-files')
  @HttpCode(200)
  @Needs('events.edit')
  async choosePoster(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(choosePosterSchema) { fileId }: ChoosePoster,
  ): Promise<EventView> {
    await this.database.house(ctx).get(EventEntity, id, 'event');
    return this.events.setPoster(ctx, id, await this.files.asPoster(ctx, fileId));
  }

  @Delete(':id/poster')
  @HttpCode(200)
  @Needs('events.edit')
  removePoster(@Ctx() ctx: Context, @Id() id: string): Promise<EventView> {
    return this.events.setPoster(ctx, id, null);
  }

  async #move(ctx: Context, id: string, kind: CommandKind, move: MoveEvent): Promise<EventView> {
    await this.life.command(ctx, id, kind, move);
    return this.events.get(ctx, id);
  }
}

const wished = ({ from, to, order, ...filter }: EventQuery): EventList => ({
  fromMs: instantQuery('from', from, 0),
  toMs: instantQuery('to', to),
  descending: order === 'latest',
  ...filter,
});
