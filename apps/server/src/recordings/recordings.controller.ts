import { Controller, Get, Query } from '@nestjs/common';
import type { RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx, Needs } from '../platform/access.js';
import type { Context } from '../platform/database.js';
import { limitQuery } from '../platform/query.js';
import { RecordingsService } from './recordings.service.js';

@Controller('api/recordings')
export class RecordingsController {
  constructor(private readonly recordings: RecordingsService) {}

  @Get()
  @Needs('recordings.read')
  list(
    @Ctx() ctx: Context,
    @Query('after') after?: string,
    @Query('limit') limit?: string,
  ): Promise<Page<RecordingView>> {
    return this.recordings.list(ctx, after ?? null, limitQuery(limit));
  }
}
