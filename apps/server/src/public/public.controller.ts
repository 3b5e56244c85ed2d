import { Controller, Get, Headers, HttpCode, Param, Post, Query, Req } from '@nestjs/common';
import type { Request } from 'express';
import { JOINING_RULE } from '@heliphon/core/access/token-bucket';
import type { ChatMessage, ChatPage, JoinChat, JoinedChat, PostMessage } from '@heliphon/contracts/chat';
import { joinChatSchema, postMessageSchema } from '@heliphon/contracts/chat.schema';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { ChatService } from '../chat/chat.service.js';
import { Limiter } from '../people/limiter.js';
import { Needs } from '../platform/access.js';
import { Checked } from '../platform/joi-pipe.js';
import { ProblemError } from '../platform/problems.js';
import { countQuery } from '../platform/query.js';
import { PublicEventsService } from './public-events.service.js';

/** What anybody may ask: an event by its address, and its chat. */
@Controller('api/public/events/:slug')
export class PublicController {
  readonly #joining = new Limiter(JOINING_RULE);

  constructor(
    private readonly events: PublicEventsService,
    private readonly chat: ChatService,
  ) {}

  @Get()
  @Needs('public')
  get(@Param('slug') slug: string, @Headers('host') host: string): Promise<PublicEvent> {
    return this.events.get(slug, host);
  }

  @Get('chat')
  @Needs('public')
  async read(@Param('slug') slug: string, @Query('after') after?: string): Promise<ChatPage> {
    const { event } = await this.events.find(slug);
    return this.chat.read(event.houseId, event.id, countQuery('after', after), 'public');
  }

  @Post('chat/join')
  @HttpCode(200)
  @Needs('public')
  async join(
    @Param('slug') slug: string,
    @Checked(joinChatSchema) wish: JoinChat,
    @Req() request: Request,
  ): Promise<JoinedChat> {
    const { event } = await this.events.find(slug);
    const waitMs = this.#joining.take(request.ip ?? '', Date.now());
    if (waitMs > 0) {
      const seconds = Math.ceil(waitMs / 1000);
      throw new ProblemError(429, 'chat-too-many-join', { seconds }, { retryAfterSeconds: seconds });
    }
    return this.chat.join(event, wish);
  }

  @Post('chat')
  @Needs('public')
  async post(
    @Param('slug') slug: string,
    @Headers('authorization') authorization: string | undefined,
    @Checked(postMessageSchema) message: PostMessage,
  ): Promise<ChatMessage> {
    const { event } = await this.events.find(slug);
    const token = /^Bearer (hc_[0-9a-z]+)$/.exec(authorization ?? '')?.[1] ?? null;
    return this.chat.post(event, token, message);
  }
}
