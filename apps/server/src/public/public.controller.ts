import { Controller, Get, Headers, HttpCode, Inject, Param, Post, Query, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { JOINING_RULE } from '@heliphon/core/access/token-bucket';
import type { ChatMessage, ChatPage, JoinChat, JoinedChat, PostMessage } from '@heliphon/contracts/chat';
import { joinChatSchema, postMessageSchema } from '@heliphon/contracts/chat.schema';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { ChatService } from '../chat/chat.service.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { publicUrlOf } from '../platform/public-url.js';
import { Needs } from '../platform/need.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Checked } from '../platform/joi-pipe.js';
import { countQuery } from '../platform/query.js';
import { reminderFile } from './reminder.js';
import { PublicEventsService } from './public-events.service.js';

/** What anybody may ask: an event by its address, and its chat. */
@Controller('api/public/events/:slug')
export class PublicController {
  readonly #joining: Limiter;

  constructor(
    private readonly events: PublicEventsService,
    private readonly chat: ChatService,
    @Inject(CONFIG) private readonly config: ServerConfig,
    buckets: Buckets,
  ) {
    this.#joining = new Limiter(buckets, 'chat joined', JOINING_RULE);
  }

  @Get()
  @Needs('public')
  get(@Param('slug') slug: string, @Headers('host') host: string): Promise<PublicEvent> {
    return this.events.get(slug, host);
  }

  /** The order of the service or meeting, to follow it beside the picture. */
  @Get('order')
  @Needs('public')
  async order(@Param('slug') slug: string): Promise<PublicOrder> {
    const { items, marks } = (await this.events.find(slug)).order;
    return { items, marks };
  }

  /** A calendar file that reminds. */
  @Get('reminder.ics')
  @Needs('public')
  async reminder(
    @Param('slug') slug: string,
    @Headers('host') host: string,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<string> {
    const event = await this.events.get(slug, host);
    response
      .type('text/calendar; charset=utf-8')
      .set('Content-Disposition', `attachment; filename="${event.slug}.ics"`);
    const { changedAtMs } = (await this.events.find(slug)).event;
    return reminderFile(event, changedAtMs, publicUrlOf(this.config, request));
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
    await this.#joining.require(request.ip ?? '', 'chat-too-many-join');
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
