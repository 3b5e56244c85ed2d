import { Controller, Get, Post } from '@nestjs/common';
import type { SaveClip } from '@heliphon/contracts/clips';
import { saveClipSchema } from '@heliphon/contracts/clips.schema';
import type { RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, Paging } from '../platform/parameters.js';
import { ClipsService } from './clips.service.js';

/** What the desk saves of an event while it runs. */
@Controller('api/events/:id/clips')
export class ClipsController {
  constructor(private readonly clips: ClipsService) {}

  @Get()
  @Needs('recordings.read')
  list(@Ctx() ctx: Context, @Id() id: string, @Paging() page: PageWish): Promise<Page<RecordingView>> {
    return this.clips.list(ctx, id, page);
  }

  @Post()
  @Needs('events.move')
  save(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(saveClipSchema) wish: SaveClip,
  ): Promise<RecordingView> {
    return this.clips.save(ctx, id, wish);
  }
}
