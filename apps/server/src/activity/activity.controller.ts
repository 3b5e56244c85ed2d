import { Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import type { ActivityEntry, ActivityQuery, UndoLast } from '@heliphon/contracts/activity';
import { activityQuerySchema, undoLastSchema } from '@heliphon/contracts/activity.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import { Filter, Paging } from '../platform/parameters.js';
import { Needs } from '../platform/need.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { notFound } from '../platform/problems.js';
import { ActivityRecord } from './activity-record.js';

/** Who changed what. Taking something back needs what doing it needed, which the record itself looks at. */
@Controller('api/happenings')
export class ActivityController {
  constructor(private readonly record: ActivityRecord) {}

  @Get()
  @Needs('activity.read')
  list(
    @Ctx() ctx: Context,
    @Filter(activityQuerySchema) query: ActivityQuery,
    @Paging() page: PageWish,
  ): Promise<Page<ActivityEntry>> {
    return this.record.list(ctx, query, page);
  }

  @Post(':id/undo')
  @HttpCode(204)
  @Needs('activity.read')
  undo(@Ctx() ctx: Context, @Param('id') id: string): Promise<void> {
    if (!/^\d{1,18}$/.test(id)) throw notFound('happening');
    return this.record.takeBack(ctx, id);
  }

  /** What somebody has just done themselves. */
  @Post('undo-last')
  @HttpCode(204)
  @Needs('activity.read')
  undoLast(@Ctx() ctx: Context, @Checked(undoLastSchema) { subjectId }: UndoLast): Promise<void> {
    return this.record.takeBackLast(ctx, subjectId);
  }
}
