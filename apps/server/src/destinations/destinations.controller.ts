import {
  Controller,
  Delete,
  Get,
  Headers,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Patch,
  Post,
  Query,
} from '@nestjs/common';
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
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { ifMatch, pageQuery } from '../platform/query.js';
import { DestinationsService } from './destinations.service.js';

@Controller('api/destinations')
export class DestinationsController {
  constructor(private readonly destinations: DestinationsService) {}

  @Get()
  @Needs('destinations.read')
  list(
    @Ctx() ctx: Context,
    @Query('after') after?: string,
    @Query('limit') limit?: string,
  ): Promise<Page<DestinationView>> {
    return this.destinations.list(ctx, pageQuery(after, limit));
  }

  @Post(':id/address')
  @HttpCode(200)
  @Needs('keys.read')
  address(@Ctx() ctx: Context, @Param('id', ParseUUIDPipe) id: string): Promise<DestinationAddress> {
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
    @Param('id', ParseUUIDPipe) id: string,
    @Headers('if-match') version: string | undefined,
    @Checked(editDestinationSchema) change: EditDestination,
  ): Promise<DestinationView> {
    return this.destinations.edit(ctx, id, ifMatch(version), change);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('destinations.edit')
  remove(@Ctx() ctx: Context, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.destinations.remove(ctx, id);
  }
}
