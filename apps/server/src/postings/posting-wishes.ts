import { In, type EntityManager } from 'typeorm';
import type { Audience } from '@heliphon/core/connectors/connector-facts';
import type { PostingStage, PostingText } from '@heliphon/core/connectors/posting-step';
import { postingText, wordsAt } from '@heliphon/core/connectors/posting-words';
import { newId } from '../platform/ids.js';
import { AccountEntity, OutletEntity } from '../tables/account.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { PostingWordsEntity } from '../tables/posting-words.entity.js';

const HOUR_MS = 3_600_000;
const AT_ONCE = 2000;

/** A posting and all that decides what it has to be. */
export interface PostingWanted {
  readonly posting: PostingEntity;
  readonly account: AccountEntity;
  readonly outlet: OutletEntity;
  readonly stage: PostingStage;
  /** When the event ended; what was known of the posting before is of no use for that. */
  readonly endedAtMs: number | null;
  readonly text: PostingText;
  /** Nothing is sent there for now. */
  readonly isPaused: boolean;
  /** A rehearsal tries the outlet out. */
  readonly isTrial: boolean;
}

/** An event that goes to an outlet, and is to be posted there at `?`. */
const WANTED = `place.outlet_id IS NOT NULL AND event.rehearsal_of IS NULL AND event.is_draft = 0
  AND (event.state IN ('doors', 'air') OR (event.state = 'planned'
    AND (place.post_ahead_hours IS NULL OR event.starts_at < ? + INTERVAL place.post_ahead_hours HOUR)))`;
const PLACES_OF_EVENTS = `event_destinations link
  JOIN destinations place ON place.house_id = link.house_id AND place.id = link.destination_id
  JOIN events event ON event.house_id = link.house_id AND event.id = link.event_id`;

/** Makes a row for each event that goes to an outlet and has none, once it is time. */
export async function wantPostings(manager: EntityManager, nowMs: number): Promise<void> {
  const now = new Date(nowMs);
  // One that was taken down, or ended, and is wanted after all.
  await manager.query(
    `UPDATE postings posting JOIN (${PLACES_OF_EVENTS})
      ON posting.event_id = link.event_id AND posting.destination_id = link.destination_id
      SET posting.done_at = NULL, posting.next_try_at = ?, posting.is_asked_again = posting.id_there IS NOT NULL
      WHERE posting.done_at IS NOT NULL AND ${WANTED}`,
    [now, now],
  );
  const missing: { house_id: string; event_id: string; destination_id: string; outlet_id: string }[] =
    await manager.query(
      `SELECT link.house_id, link.event_id, link.destination_id, place.outlet_id FROM ${PLACES_OF_EVENTS}
        LEFT JOIN postings posting ON posting.event_id = link.event_id AND posting.destination_id = link.destination_id
        WHERE posting.id IS NULL AND ${WANTED} LIMIT ${AT_ONCE}`,
      [now],
    );
  if (missing.length === 0) return;
  const rows = missing.map((row) => ({
    id: newId(),
    houseId: row.house_id,
    eventId: row.event_id,
    destinationId: row.destination_id,
    outletId: row.outlet_id,
    attempts: 0,
    nextTryAtMs: nowMs,
  }));
  // Another server may have been quicker.
  await manager
    .createQueryBuilder()
    .insert()
    .into(PostingEntity)
    .values(rows)
    .orIgnore()
    .updateEntity(false)
    .execute();
}

/** What waited for a consent need not wait any longer. */
export async function hurryPostings(manager: EntityManager, accountId: string, nowMs: number): Promise<void> {
  await manager.query(
    `UPDATE postings SET next_try_at = ? WHERE done_at IS NULL AND outlet_id IN
      (SELECT id FROM outlets WHERE account_id = ?)`,
    [new Date(nowMs), accountId],
  );
}

/** Those at which something may be to do now. */
export async function openPostings(manager: EntityManager, nowMs: number): Promise<PostingWanted[]> {
  const postings = await manager
    .createQueryBuilder(PostingEntity, 'posting')
    .where('posting.done_at IS NULL AND posting.next_try_at <= :now', { now: new Date(nowMs) })
    .orderBy('posting.next_try_at')
    .take(AT_ONCE)
    .getMany();
  if (postings.length === 0) return [];
  const [events, links, outlets, places] = await Promise.all([
    manager.findBy(EventEntity, { id: In(postings.map(({ eventId }) => eventId)) }),
    manager.findBy(EventDestinationEntity, { eventId: In(postings.map(({ eventId }) => eventId)) }),
    manager.findBy(OutletEntity, { id: In(postings.map(({ outletId }) => outletId)) }),
    manager.findBy(DestinationEntity, { id: In(postings.map(({ destinationId }) => destinationId)) }),
  ]);
  const words = await manager.find(PostingWordsEntity, {
    where: [
      { eventId: In(events.map(({ id }) => id)) },
      { seriesId: In(events.flatMap(({ seriesId }) => seriesId ?? [])) },
    ],
  });
  const accounts = await manager.findBy(AccountEntity, { id: In(outlets.map(({ accountId }) => accountId)) });
  const eventBy = new Map(events.map((event) => [event.id, event]));
  const outletBy = new Map(outlets.map((outlet) => [outlet.id, outlet]));
  const accountBy = new Map(accounts.map((account) => [account.id, account]));
  const linkOf = new Map(links.map((link) => [`${link.eventId} ${link.destinationId}`, link]));
  return postings.flatMap((posting) => {
    const outlet = outletBy.get(posting.outletId);
    const account = outlet && accountBy.get(outlet.accountId);
    if (!account) return [];
    const event = eventBy.get(posting.eventId) ?? null;
    const link = linkOf.get(`${posting.eventId} ${posting.destinationId}`);
    const aheadHours = places.find(({ id }) => id === posting.destinationId)?.postAheadHours ?? null;
    const stage = event && link ? stageOf(event, aheadHours, nowMs) : 'called-off';
    const said = event ? wordsAt(words, event, posting.destinationId) : [];
    const text = event ? textOf(event, said, account.audience) : lastText(posting);
    const endedAtMs = event?.endAtMs ?? null;
    const isTrial = event !== null && event.rehearsalOf !== null;
    return [{ posting, account, outlet, stage, endedAtMs, text, isPaused: link?.paused ?? false, isTrial }];
  });
}

function stageOf(event: EventEntity, aheadHours: number | null, nowMs: number): PostingStage {
  if (event.isDraft || event.state === 'cancelled') return 'called-off';
  if (event.state !== 'planned') return event.state === 'kept' ? 'over' : 'on';
  return aheadHours === null || event.startsAtMs < nowMs + aheadHours * HOUR_MS ? 'ahead' : 'early';
}

function textOf(
  event: EventEntity,
  words: readonly PostingWordsEntity[],
  audience: Audience | null,
): PostingText {
  // What is rehearsed is nobody else's to see.
  const most = event.rehearsalOf === null ? (audience ?? 'everyone') : 'only-me';
  return postingText(event, words, most);
}

/** What was said last of an event that is gone. */
const lastText = ({ told }: PostingEntity): PostingText =>
  told ?? { title: '', text: '', startsAtMs: 0, audience: 'only-me', pictureId: null };
