import { Controller, Get, Headers, HttpCode, Inject, Param, Post, Query, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { JOINING_RULE } from '@heliphon/core/access/token-bucket';
import type { ChatMessage, ChatPage, JoinChat, JoinedChat, PostMessage } from '@heliphon/contracts/chat';
import { joinChatSchema, postMessageSchema } from '@heliphon/contracts/chat.schema';
import type { Admitted, AdmitWish } from '@heliphon/contracts/watching';
import { admitSchema } from '@heliphon/contracts/watching.schema';
import type { TellOfTrouble } from '@heliphon/contracts/viewer-reports';
import { tellOfTroubleSchema } from '@heliphon/contracts/viewer-reports.schema';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { deviceWords } from '../people/device-words.js';
import { ViewerReports } from '../signal/viewer-reports.service.js';
import { ChatService } from '../chat/chat.service.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { publicUrlOf } from '../platform/public-url.js';
import { Needs } from '../platform/need.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Checked } from '../platform/joi-pipe.js';
import { countQuery } from '../platform/query.js';
import { reminderFile } from './reminder.js';
import { AdmissionsService } from '../watching/admissions.service.js';
import type { Asking } from '../watching/visitors.js';
import { type Known, PublicEventsService } from './public-events.service.js';

const Pass = (): ParameterDecorator => Headers('heliphon-pass');

/** What anybody may ask: an event by its address, and its chat. */
@Controller('api/public/events/:slug')
export class PublicController {
  readonly #joining: Limiter;

  constructor(
    private readonly events: PublicEventsService,
    private readonly chat: ChatService,
    private readonly admissions: AdmissionsService,
    private readonly viewerReports: ViewerReports,
    @Inject(CONFIG) private readonly config: ServerConfig,
    buckets: Buckets,
  ) {
    this.#joining = new Limiter(buckets, 'chat joined', JOINING_RULE);
  }

  @Get()
  @Needs('public')
  get(
    @Param('slug') slug: string,
    @Headers('host') host: string,
    @Req() request: Request,
  ): Promise<PublicEvent> {
    return this.events.get(slug, host, askingOf(request));
  }

  /** Lets somebody in who knows the password, or was invited. */
  @Post('admit')
  @HttpCode(200)
  @Needs('public')
  async admit(
    @Param('slug') slug: string,
    @Checked(admitSchema) wish: AdmitWish,
    @Req() request: Request,
  ): Promise<Admitted> {
    const { house, levels } = await this.events.find(slug);
    return this.admissions.admit(house.id, levels, wish, request.ip ?? '');
  }

  /** The order of the service or meeting, to follow it beside the picture. */
  @Get('order')
  @Needs('public')
  async order(@Param('slug') slug: string, @Pass() pass?: string): Promise<PublicOrder> {
    const { items, marks, chapters } = (await this.#known(slug, pass)).order;
    return { items, marks, chapters };
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
    const event = await this.events.get(slug, host, askingOf(request));
    response
      .type('text/calendar; charset=utf-8')
      .set('Content-Disposition', `attachment; filename="${event.slug}.ics"`);
    const { changedAtMs } = (await this.events.find(slug)).event;
    return reminderFile(event, changedAtMs, publicUrlOf(this.config, request));
  }

  /** Tells the house that picture or sound is missing, and what the player did. */
  @Post('reports')
  @HttpCode(204)
  @Needs('public')
  async tell(
    @Param('slug') slug: string,
    @Checked(tellOfTroubleSchema) told: TellOfTrouble,
    @Req() { ip, headers }: Request,
    @Pass() pass?: string,
  ): Promise<void> {
    const { event } = await this.#known(slug, pass);
    await this.viewerReports.tell(event, told, ip ?? '', deviceWords(headers['user-agent'] ?? ''));
  }

  @Get('chat')
  @Needs('public')
  async read(
    @Param('slug') slug: string,
    @Query('after') after?: string,
    @Pass() pass?: string,
  ): Promise<ChatPage> {
    const { event } = await this.#known(slug, pass);
    return this.chat.read(event.houseId, event.id, countQuery('after', after), 'public');
  }

  @Post('chat/join')
  @HttpCode(200)
  @Needs('public')
  async join(
    @Param('slug') slug: string,
    @Checked(joinChatSchema) wish: JoinChat,
    @Req() request: Request,
    @Pass() pass?: string,
  ): Promise<JoinedChat> {
    const { event } = await this.#known(slug, pass);
    await this.#joining.require(request.ip ?? '', 'chat-too-many-join');
    return this.chat.join(event, wish);
  }

  @Post('chat')
  @Needs('public')
  async post(
    @Param('slug') slug: string,
    @Headers('authorization') authorization: string | undefined,
    @Checked(postMessageSchema) message: PostMessage,
    @Pass() pass?: string,
  ): Promise<ChatMessage> {
    const { event } = await this.#known(slug, pass);
    const token = /^Bearer (hc_[0-9a-z]+)$/.exec(authorization ?? '')?.[1] ?? null;
    return this.chat.post(event, token, message);
  }

  /** For those who may know what stands beside the picture. */
  async #known(slug: string, pass: string | undefined): Promise<Known> {
    const known = await this.events.find(slug);
    this.events.requirePass(known, pass);
    return known;
  }
}

/** Embeds say on which website they stand. */
function askingOf({ headers, ip, query }: Request): Asking {
  const { on } = query;
  return { headers, address: ip ?? '', site: typeof on === 'string' ? on : null };
}
