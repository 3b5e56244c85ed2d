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
import type { AddChannel, ChannelView, EditChannel } from '@heliphon/contracts/channels';
import { addChannelSchema, editChannelSchema } from '@heliphon/contracts/channels.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { ifMatch, pageQuery } from '../platform/query.js';
import { ChannelsService } from './channels.service.js';

const Id = (): ParameterDecorator => Param('id', ParseUUIDPipe);

@Controller('api/channels')
export class ChannelsController {
  constructor(private readonly channels: ChannelsService) {}

  @Get()
  @Needs('events.read')
  list(
    @Ctx() ctx: Context,
    @Query('after') after?: string,
    @Query('limit') limit?: string,
  ): Promise<Page<ChannelView>> {
    return this.channels.list(ctx, pageQuery(after, limit));
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
    @Headers('if-match') version: string | undefined,
    @Checked(editChannelSchema) change: EditChannel,
  ): Promise<ChannelView> {
    return this.channels.edit(ctx, id, ifMatch(version), change);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('events.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.channels.remove(ctx, id);
  }
}
