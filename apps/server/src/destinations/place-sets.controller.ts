import { Controller, Delete, Get, HttpCode, Patch, Post } from '@nestjs/common';
import type { AddPlaceSet, EditPlaceSet, PlaceSetView } from '@heliphon/contracts/place-sets';
import { addPlaceSetSchema, editPlaceSetSchema } from '@heliphon/contracts/place-sets.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import { PlaceSetsService } from './place-sets.service.js';

@Controller('api/place-sets')
export class PlaceSetsController {
  constructor(private readonly sets: PlaceSetsService) {}

  @Get()
  @Needs('destinations.read')
  list(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<PlaceSetView>> {
    return this.sets.list(ctx, page);
  }

  @Post()
  @Needs('events.edit')
  add(@Ctx() ctx: Context, @Checked(addPlaceSetSchema) wish: AddPlaceSet): Promise<PlaceSetView> {
    return this.sets.add(ctx, wish);
  }

  @Patch(':id')
  @Needs('events.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editPlaceSetSchema) change: EditPlaceSet,
  ): Promise<PlaceSetView> {
    return this.sets.edit(ctx, id, version, change);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('events.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.sets.remove(ctx, id);
  }
}
