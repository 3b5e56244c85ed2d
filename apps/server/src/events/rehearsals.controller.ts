import { Controller, Get, HttpCode, Post } from '@nestjs/common';
import type { EventView, RehearsalView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Needs } from '../platform/need.js';
import { Id, Paging } from '../platform/parameters.js';
import { RehearsalsService } from './rehearsals.service.js';

/** Private rehearsals of an event. Ending one is ending an event, throwing it away is putting its recording in the bin. */
@Controller('api/events/:id')
export class RehearsalsController {
  constructor(private readonly rehearsals: RehearsalsService) {}

  @Get('rehearsals')
  @Needs('events.read')
  list(@Ctx() ctx: Context, @Id() id: string, @Paging() page: PageWish): Promise<Page<RehearsalView>> {
    return this.rehearsals.list(ctx, id, page);
  }

  @Post('rehearsals')
  @Needs('events.move')
  start(@Ctx() ctx: Context, @Id() id: string): Promise<EventView> {
    return this.rehearsals.start(ctx, id);
  }

  @Post('keep-rehearsal')
  @HttpCode(200)
  @Needs('events.edit')
  keep(@Ctx() ctx: Context, @Id() id: string): Promise<EventView> {
    return this.rehearsals.keep(ctx, id);
  }
}
