import { Controller, Delete, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import type { ChoosePlaceSize, EventView, PausePlace } from '@heliphon/contracts/events';
import { choosePlaceSizeSchema, pausePlaceSchema } from '@heliphon/contracts/events.schema';
import { Ctx } from '../platform/access.js';
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { PlacesOfEventService } from './places-of-event.service.js';

const DestinationId = (): ParameterDecorator => Param('destinationId', ParseUUIDPipe);

@Controller('api/events/:id/places')
export class PlacesOfEventController {
  constructor(private readonly places: PlacesOfEventService) {}

  @Post(':destinationId')
  @HttpCode(200)
  @Needs('events.move')
  pause(
    @Ctx() ctx: Context,
    @Id() id: string,
    @DestinationId() destinationId: string,
    @Checked(pausePlaceSchema) { paused }: PausePlace,
  ): Promise<EventView> {
    return this.places.pause(ctx, id, destinationId, paused);
  }

  @Put(':destinationId')
  @Needs('events.move')
  add(@Ctx() ctx: Context, @Id() id: string, @DestinationId() destinationId: string): Promise<EventView> {
    return this.places.set(ctx, id, destinationId, true);
  }

  @Put(':destinationId/size')
  @Needs('events.move')
  chooseSize(
    @Ctx() ctx: Context,
    @Id() id: string,
    @DestinationId() destinationId: string,
    @Checked(choosePlaceSizeSchema) { rendition }: ChoosePlaceSize,
  ): Promise<EventView> {
    return this.places.chooseSize(ctx, id, destinationId, rendition);
  }

  @Delete(':destinationId')
  @HttpCode(200)
  @Needs('events.move')
  remove(@Ctx() ctx: Context, @Id() id: string, @DestinationId() destinationId: string): Promise<EventView> {
    return this.places.set(ctx, id, destinationId, false);
  }
}
