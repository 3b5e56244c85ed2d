import { Injectable } from '@nestjs/common';
import { In, IsNull, Not } from 'typeorm';
import type { AccountUses, Unlink } from '@heliphon/contracts/accounts';
import { Connectors } from '../connectors/connectors.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { ProblemError } from '../platform/problems.js';
import { removePlace } from '../destinations/place-rows.js';
import { AccountEntity, OutletEntity } from '../tables/account.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { SeriesDestinationEntity, SeriesEntity } from '../tables/series.entity.js';
import { AccountTokens } from './account-tokens.js';

const NAMED = 20;

/** What goes to the outlets of an account. */
interface Uses {
  readonly placeIds: readonly string[];
  readonly events: readonly EventEntity[];
  readonly series: readonly SeriesEntity[];
  /** That stand over there, and that nobody has seen yet. */
  readonly postings: readonly PostingEntity[];
}

/** Lets go of an account: here, over there, and of what was planned with it. */
@Injectable()
export class UnlinkingService {
  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly tokens: AccountTokens,
    private readonly clock: Clock,
  ) {}

  /** What unlinking would touch. */
  async uses(ctx: Context, id: string): Promise<AccountUses> {
    return this.database.snapshotOf(ctx, async (scope) => {
      await scope.get(AccountEntity, id, 'account');
      const { events, series, postings } = await usesOf(scope, id);
      return {
        events: events
          .slice(0, NAMED)
          .map(({ id: eventId, title, startsAtMs }) => ({ id: eventId, title, startsAtMs })),
        eventCount: events.length,
        series: series.slice(0, NAMED).map(({ id: seriesId, title }) => ({ id: seriesId, title })),
        postingCount: postings.length,
      };
    });
  }

  /**
   * @throws ProblemError 409 while an event is on with it, or where postings cannot be taken down: events do not go
   * there any more by then, and everything else is as it was
   */
  async unlink(ctx: Context, id: string, { postings: wish }: Unlink): Promise<void> {
    const [account, postings] = await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(AccountEntity, { id }, 'account');
      const there = await letGo(scope, id);
      // What is left there is nobody's to take down any more.
      if (wish === 'leave')
        for (const posting of there)
          await scope.save(Object.assign(posting, { doneAtMs: this.clock.nowMs() }));
      return [row, there] as const;
    });
    const standing = wish === 'take-down' ? await this.#takeDown(account, postings) : 0;
    const platform = this.connectors.nameOf(account.platform);
    if (standing > 0) throw new ProblemError(409, 'postings-stay', { platform, count: standing });
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(AccountEntity, { id }, 'account');
      // An event may have been planned to go there meanwhile.
      for (const placeId of (await usesOf(scope, id)).placeIds) await removePlace(scope, placeId);
      await scope.remove(AccountEntity, { id });
      await scope.happened({
        subjectKind: 'account',
        subjectId: id,
        kind: 'account-unlinked',
        before: { name: row.name, platform: row.platform },
      });
    });
    await this.tokens.revoke(account);
  }

  /** @returns how many still stand over there */
  async #takeDown(account: AccountEntity, postings: readonly PostingEntity[]): Promise<number> {
    const connector = this.connectors.get(account.platform);
    // Nothing can be done over there any more.
    if (!connector || account.endedAtMs !== null) return 0;
    let standing = 0;
    for (const { idThere } of postings) {
      const answer = await this.tokens.ask(account, (token) => connector.takeDown(token, idThere!));
      const isGone = answer.ok || answer.error.code === 'unknown' || answer.error.code === 'consent-ended';
      if (!isGone) standing += 1;
    }
    return standing;
  }
}

/** @throws ProblemError 409 while an event is on. @returns the postings that stand over there */
async function letGo(scope: HouseScope, accountId: string): Promise<readonly PostingEntity[]> {
  const { placeIds, events, series, postings } = await usesOf(scope, accountId);
  const onAir = events.find(({ state }) => state !== 'planned');
  if (onAir) throw new ProblemError(409, 'account-on-air', { title: onAir.title });
  const destinationId = In([...placeIds]);
  for (const { id: eventId } of events) {
    await scope.remove(EventDestinationEntity, { eventId, destinationId });
    await scope.happened({ subjectKind: 'event', subjectId: eventId, kind: 'place-unlinked' });
  }
  for (const { id: seriesId } of series)
    await scope.remove(SeriesDestinationEntity, { seriesId, destinationId });
  // What is over no longer needs to know the place.
  await scope.remove(EventDestinationEntity, { destinationId });
  return postings;
}

async function usesOf(scope: HouseScope, accountId: string): Promise<Uses> {
  const outlets = await scope.find(OutletEntity, { where: { accountId, isChosen: true } });
  const places = await scope.find(DestinationEntity, {
    where: { outletId: In(outlets.map(({ id }) => id)) },
  });
  const placeIds = places.map(({ id }) => id);
  const destinationId = In(placeIds);
  const links = await scope.find(EventDestinationEntity, { where: { destinationId } });
  const dates = await scope.find(SeriesDestinationEntity, { where: { destinationId } });
  const events = await scope.find(EventEntity, {
    where: {
      id: In(links.map(({ eventId }) => eventId)),
      state: In(['planned', 'doors', 'air']),
      rehearsalOf: IsNull(),
    },
    order: { startsAtMs: 'ASC' },
  });
  const series = await scope.find(SeriesEntity, {
    where: { id: In(dates.map(({ seriesId }) => seriesId)) },
    order: { title: 'ASC' },
  });
  const postings = await scope.find(PostingEntity, {
    where: { destinationId, idThere: Not(IsNull()), doneAtMs: IsNull(), state: 'planned' },
  });
  return { placeIds, events, series, postings };
}
