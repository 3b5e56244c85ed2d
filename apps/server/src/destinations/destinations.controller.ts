import { Controller, Delete, Get, HttpCode, Patch, Post } from '@nestjs/common';
import type {
  AddDestination,
  DestinationAddress,
  DestinationView,
  EditDestination,
} from '@heliphon/contracts/destinations';
import { addDestinationSchema, editDestinationSchema } from '@heliphon/contracts/destinations.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { DestinationsService } from './destinations.service.js';

@Controller('api/destinations')
export class DestinationsController {
  constructor(private readonly destinations: DestinationsService) {}

  @Get()
  @Needs('destinations.read')
  list(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<DestinationView>> {
    return this.destinations.list(ctx, page);
  }

  @Post(':id/address')
  @HttpCode(200)
  @Needs('keys.read')
  address(@Ctx() ctx: Context, @Id() id: string): Promise<DestinationAddress> {
    return this.destinations.address(ctx, id);
  }

  @Post()
  @Needs('destinations.edit')
  add(@Ctx() ctx: Context, @Checked(addDestinationSchema) wish: AddDestination): Promise<DestinationView> {
    return this.destinations.add(ctx, wish);
  }

  @Patch(':id')
  @Needs('destinations.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editDestinationSchema) change: EditDestination,
  ): Promise<DestinationView> {
    return this.destinations.edit(ctx, id, version, change);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('destinations.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.destinations.remove(ctx, id);
  }
}
