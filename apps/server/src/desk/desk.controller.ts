import { Controller, Get, Put } from '@nestjs/common';
import type { ChooseHolder, DeskHolderView } from '@heliphon/contracts/desk';
import { chooseHolderSchema } from '@heliphon/contracts/desk.schema';
import { Ctx } from '../platform/access.js';
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { DeskHoldersService } from './desk-holders.service.js';

/** Who holds the desk of an event. */
@Controller('api/events/:id/holder')
export class DeskController {
  constructor(private readonly holders: DeskHoldersService) {}

  @Get()
  @Needs('events.read')
  get(@Ctx() ctx: Context, @Id() id: string): Promise<DeskHolderView> {
    return this.holders.get(ctx, id);
  }

  @Put()
  @Needs('events.move')
  choose(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(chooseHolderSchema) wish: ChooseHolder,
  ): Promise<DeskHolderView> {
    return this.holders.choose(ctx, id, wish);
  }
}
