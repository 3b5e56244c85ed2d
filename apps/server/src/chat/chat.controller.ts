import { Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Query } from '@nestjs/common';
import type { ChatMessage, ChatPage, ChatPerson, PostMessage } from '@heliphon/contracts/chat';
import type { Page } from '@heliphon/contracts/problem';
import { postMessageSchema } from '@heliphon/contracts/chat.schema';
import { EventEntity } from '../tables/event.entity.js';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Paging } from '../platform/parameters.js';
import { type Context, Database, mayDo, type PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { countQuery } from '../platform/query.js';
import { ChatModerationService } from './chat-moderation.service.js';
import { ChatService } from './chat.service.js';

const EventId = (): ParameterDecorator => Param('id', ParseUUIDPipe);
const PersonId = (): ParameterDecorator => Param('personId', ParseUUIDPipe);
const MessageId = (): ParameterDecorator => Param('messageId', ParseUUIDPipe);

/** The chat as the desk has it: read, answer, hide, restore. */
@Controller('api/events/:id/chat')
export class ChatController {
  constructor(
    private readonly chat: ChatService,
    private readonly moderation: ChatModerationService,
    private readonly database: Database,
  ) {}

  @Get()
  @Needs('chat.read')
  async read(@Ctx() ctx: Context, @EventId() id: string, @Query('after') after?: string): Promise<ChatPage> {
    await this.database.house(ctx).get(EventEntity, id, 'event');
    const sees = mayDo(ctx, 'chat.moderate') ? 'all' : 'public';
    return this.chat.read(ctx.houseId, id, countQuery('after', after), sees);
  }

  @Post()
  @Needs('chat.moderate')
  answer(
    @Ctx() ctx: Context,
    @EventId() id: string,
    @Checked(postMessageSchema) message: PostMessage,
  ): Promise<ChatMessage> {
    return this.chat.answer(ctx, id, message);
  }

  @Get('people')
  @Needs('chat.moderate')
  people(@Ctx() ctx: Context, @EventId() id: string, @Paging() page: PageWish): Promise<Page<ChatPerson>> {
    return this.moderation.people(ctx, id, page);
  }

  @Get('people/:personId')
  @Needs('chat.moderate')
  saidBy(@Ctx() ctx: Context, @EventId() id: string, @PersonId() personId: string): Promise<ChatPage> {
    return this.moderation.saidBy(ctx, id, personId);
  }

  @Post('people/:personId/hide')
  @HttpCode(200)
  @Needs('chat.moderate')
  hidePerson(@Ctx() ctx: Context, @EventId() id: string, @PersonId() personId: string): Promise<ChatPerson> {
    return this.moderation.setPersonHidden(ctx, id, personId, true);
  }

  @Post('people/:personId/restore')
  @HttpCode(200)
  @Needs('chat.moderate')
  restorePerson(
    @Ctx() ctx: Context,
    @EventId() id: string,
    @PersonId() personId: string,
  ): Promise<ChatPerson> {
    return this.moderation.setPersonHidden(ctx, id, personId, false);
  }

  @Post(':messageId/hide')
  @HttpCode(200)
  @Needs('chat.moderate')
  hide(@Ctx() ctx: Context, @EventId() id: string, @MessageId() messageId: string): Promise<ChatMessage> {
    return this.moderation.setHidden(ctx, id, messageId, true);
  }

  @Post(':messageId/restore')
  @HttpCode(200)
  @Needs('chat.moderate')
  restore(@Ctx() ctx: Context, @EventId() id: string, @MessageId() messageId: string): Promise<ChatMessage> {
    return this.moderation.setHidden(ctx, id, messageId, false);
  }
}
