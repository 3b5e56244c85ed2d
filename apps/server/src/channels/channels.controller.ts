import { Controller, Delete, Get, HttpCode, Patch, Post } from '@nestjs/common';
import type { AddChannel, ChannelView, EditChannel } from '@heliphon/contracts/channels';
import { addChannelSchema, editChannelSchema } from '@heliphon/contracts/channels.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import { ChannelsService } from './channels.service.js';

@Controller('api/channels')
export class ChannelsController {
  constructor(private readonly channels: ChannelsService) {}

  @Get()
  @Needs('events.read')
  list(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<ChannelView>> {
    return this.channels.list(ctx, page);
  }

  @Post()
  @Needs('events.edit')
  add(@Ctx() ctx: Context, @Checked(addChannelSchema) wish: AddChannel): Promise<ChannelView> {
    return this.channels.add(ctx, wish);
  }

  @Patch(':id')
  @Needs('events.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editChannelSchema) change: EditChannel,
  ): Promise<ChannelView> {
    return this.channels.edit(ctx, id, version, change);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('events.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.channels.remove(ctx, id);
  }
}
