import { Injectable } from '@nestjs/common';
import { postingText, wordsAt } from '@heliphon/core/connectors/posting-words';
import type { PostingCommentView, PostingView } from '@heliphon/contracts/postings';
import type { Page } from '@heliphon/contracts/problem';
import { outletPlaces } from '../accounts/outlet-places.js';
import { Connectors } from '../connectors/connectors.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type PageWish } from '../platform/database.js';
import { ProblemError } from '../platform/problems.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { PostingCommentEntity } from '../tables/posting-comment.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { PostingWordsEntity } from '../tables/posting-words.entity.js';
import { outletWordsView } from './outlet-words-view.js';

const HOUR_MS = 3_600_000;

/** Where an event is posted, or will be, as those who plan it see it. */
@Injectable()
export class PostingsService {
  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly clock: Clock,
  ) {}

  async ofEvent(ctx: Context, eventId: string): Promise<readonly PostingView[]> {
    return this.database.snapshotOf(ctx, async (scope) => {
      const event = await scope.get(EventEntity, eventId, 'event');
      const links = await scope.find(EventDestinationEntity, { where: { eventId } });
      const postings = (await scope.find(PostingEntity, { where: { eventId } })).filter(
        ({ doneAtMs, link }) => doneAtMs === null || link !== null,
      );
      const own = await scope.find(PostingWordsEntity, { where: { eventId } });
      const { seriesId } = event;
      const ofSeries = seriesId === null ? [] : await scope.find(PostingWordsEntity, { where: { seriesId } });
      const isComing = event.state === 'planned' && event.rehearsalOf === null;
      const shown = [...postings, ...(isComing ? links : [])].map(({ destinationId }) => destinationId);
      const places = await outletPlaces(scope, [...new Set(shown)]);
      return places.map((outlet): PostingView => {
        const { place, account } = outlet;
        const isThere = ({ destinationId }: { destinationId: string }): boolean => destinationId === place.id;
        const posting = postings.find(isThere);
        const words = own.find(isThere);
        const said = wordsAt([...own, ...ofSeries], event, place.id);
        return {
          ...outletWordsView(outlet, words, this.connectors),
          postsAtMs: place.postAheadHours === null ? null : event.startsAtMs - place.postAheadHours * HOUR_MS,
          state: posting?.link == null ? null : posting.state,
          endedBecause: posting?.endedBecause ?? null,
          longestMs: this.connectors.get(account.platform)?.facts.longestMs ?? null,
          viewers: posting?.viewers ?? null,
          audience: postingText(event, said, account.audience ?? 'everyone').audience,
          link: posting?.link ?? null,
          trouble: (posting?.trouble ?? null) as PostingView['trouble'],
          nextTryAtMs: posting?.trouble ? posting.nextTryAtMs : null,
        };
      });
    });
  }

  /**
   * Makes a new posting where one has ended while its event goes on.
   * @throws ProblemError 409 where there is nothing to go on from
   */
  async goOn(ctx: Context, eventId: string, destinationId: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const event = await scope.get(EventEntity, eventId, 'event');
      const posting = await scope.lock(PostingEntity, { eventId, destinationId }, 'posting');
      const isOn = event.state === 'air' || event.state === 'doors';
      if (!isOn || posting.state !== 'ended') throw new ProblemError(409, 'posting-not-ended');
      await scope.save(Object.assign(posting, { isAskedAgain: true, nextTryAtMs: this.clock.nowMs() }));
    });
  }

  /** The newest first. */
  async comments(ctx: Context, eventId: string, wish: PageWish): Promise<Page<PostingCommentView>> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const order = { by: 'atMs', descending: true, where: { eventId } } as const;
    const { rows, next } = await scope.page(PostingCommentEntity, order, wish);
    return {
      items: rows.map(({ id, destinationId, author, text, atMs }) => ({
        id,
        destinationId,
        author,
        text,
        atMs,
      })),
      next,
    };
  }
}
