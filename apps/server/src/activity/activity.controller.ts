import { Controller, Get, HttpCode, Param, Post, Query } from '@nestjs/common';
import type { ActivityEntry, UndoLast } from '@heliphon/contracts/activity';
import { activityQuerySchema, undoLastSchema } from '@heliphon/contracts/activity.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import type { Context } from '../platform/database.js';
import { Checked, JoiPipe } from '../platform/joi-pipe.js';
import { notFound } from '../platform/problems.js';
import { pageQuery } from '../platform/query.js';
import { ActivityRecord } from './activity-record.js';

/** Who changed what. Taking back needs the right to edit. */
@Controller('api/happenings')
export class ActivityController {
  constructor(private readonly record: ActivityRecord) {}

  @Get()
  @Needs('activity.read')
  list(@Ctx() ctx: Context, @Query() query: Record<string, string>): Promise<Page<ActivityEntry>> {
    const { after, limit, ...rest } = query;
    return this.record.list(ctx, new JoiPipe(activityQuerySchema).transform(rest), pageQuery(after, limit));
  }

  @Post(':id/undo')
  @HttpCode(204)
  @Needs('events.edit')
  undo(@Ctx() ctx: Context, @Param('id') id: string): Promise<void> {
    if (!/^\d{1,18}$/.test(id)) throw notFound('happening');
    return this.record.takeBack(ctx, id);
  }

  /** What somebody has just done themselves: operators and moderators too may take back their own slip. */
  @Post('undo-last')
  @HttpCode(204)
  @Needs('chat.moderate')
  undoLast(@Ctx() ctx: Context, @Checked(undoLastSchema) { subjectId }: UndoLast): Promise<void> {
    return this.record.takeBackLast(ctx, subjectId);
  }
}
