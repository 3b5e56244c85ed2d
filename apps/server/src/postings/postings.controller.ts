import { Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import type { PostingWords } from '@heliphon/core/connectors/posting-words';
import type { OutletWordsView, PostingCommentView, PostingView } from '@heliphon/contracts/postings';
import { postingWordsSchema } from '@heliphon/contracts/postings.schema';
import type { BeginTestSend, TestSendView } from '@heliphon/contracts/test-sends';
import { beginTestSendSchema } from '@heliphon/contracts/test-sends.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, Paging } from '../platform/parameters.js';
import { PostingWordsService } from './posting-words.service.js';
import { TestSends } from './test-sends.js';
import { PostingsService } from './postings.service.js';

/** Events and series at the outlets of linked accounts. */
@Controller('api')
export class PostingsController {
  constructor(
    private readonly postings: PostingsService,
    private readonly words: PostingWordsService,
    private readonly tests: TestSends,
  ) {}

  @Get('events/:id/postings')
  @Needs('events.read')
  async ofEvent(@Ctx() ctx: Context, @Id() id: string): Promise<{ items: readonly PostingView[] }> {
    return { items: await this.postings.ofEvent(ctx, id) };
  }

  @Post('events/:id/postings/:destinationId/go-on')
  @HttpCode(204)
  @Needs('events.move')
  goOn(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Param('destinationId', ParseUUIDPipe) destinationId: string,
  ): Promise<void> {
    return this.postings.goOn(ctx, id, destinationId);
  }

  @Get('events/:id/test-sends')
  @Needs('events.read')
  async testSends(@Ctx() ctx: Context, @Id() id: string): Promise<{ items: readonly TestSendView[] }> {
    return { items: await this.tests.list(ctx, id) };
  }

  @Post('events/:id/test-sends')
  @HttpCode(204)
  @Needs('events.move')
  beginTestSend(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(beginTestSendSchema) { destinationId }: BeginTestSend,
  ): Promise<void> {
    return this.tests.begin(ctx, id, destinationId);
  }

  @Get('events/:id/comments')
  @Needs('events.read')
  comments(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Paging() page: PageWish,
  ): Promise<Page<PostingCommentView>> {
    return this.postings.comments(ctx, id, page);
  }

  @Put('events/:id/postings/:destinationId/words')
  @HttpCode(204)
  @Needs('events.edit')
  changeOfEvent(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Param('destinationId', ParseUUIDPipe) destinationId: string,
    @Checked(postingWordsSchema) words: PostingWords,
  ): Promise<void> {
    return this.words.change(ctx, { kind: 'event', id }, destinationId, words);
  }

  @Get('series/:id/postings')
  @Needs('events.read')
  async ofSeries(@Ctx() ctx: Context, @Id() id: string): Promise<{ items: readonly OutletWordsView[] }> {
    return { items: await this.words.ofSeries(ctx, id) };
  }

  @Put('series/:id/postings/:destinationId/words')
  @HttpCode(204)
  @Needs('events.edit')
  changeOfSeries(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Param('destinationId', ParseUUIDPipe) destinationId: string,
    @Checked(postingWordsSchema) words: PostingWords,
  ): Promise<void> {
    return this.words.change(ctx, { kind: 'series', id }, destinationId, words);
  }
}
