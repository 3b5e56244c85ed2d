import { Injectable } from '@nestjs/common';
import { type EntityManager, IsNull } from 'typeorm';
import type { Observation } from '@heliphon/core/control/observations';
import type { SaveClip } from '@heliphon/contracts/clips';
import type { RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { takeAddress } from '../events/event-addresses.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { AddressEntity } from '../platform/entities.js';
import { newId, randomText } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { EventEntity } from '../tables/event.entity.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { KEPT_MS, recordingView } from './recordings.service.js';

/** A second press within this time means the same clip. */
const ONE_WISH_MS = 3000;
const TITLE_LENGTH = 120;
const SLUG_OF_EVENT_LENGTH = 60;
/** A clip is found only by those who are given its address: it cannot be guessed. */
const SLUG_BITS = 50;

/** Stretches of an event that are saved while it runs, each as a separate recording. */
@Injectable()
export class ClipsService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  /** The latest first, those that are still being made among them. */
  async list(ctx: Context, eventId: string, wish: PageWish): Promise<Page<RecordingView>> {
    const scope = this.database.house(ctx);
    const event = await scope.get(EventEntity, eventId, 'event');
    const where = { eventId, kind: 'clip' as const, binnedAtMs: IsNull() };
    const order = { by: 'airAtMs', descending: true, where } as const;
    const { rows, next } = await scope.page(RecordingEntity, order, wish);
    return { items: rows.map((row) => recordingView(row, event)), next };
  }

  /**
   * Saves what has just been shown; its media node makes it, at once or when it is back.
   * @throws ProblemError 409 for an event that is not on air, a rehearsal, and a second press of the same moment.
   */
  async save(ctx: Context, eventId: string, { seconds }: SaveClip): Promise<RecordingView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const event = await scope.lock(EventEntity, { id: eventId }, 'event');
      if (event.rehearsalOf !== null) throw new ProblemError(409, 'clip-of-rehearsal');
      if (event.state !== 'air' || event.airAtMs === null) throw new ProblemError(409, 'clip-not-on-air');
      const toUtcMs = this.clock.nowMs();
      await requireNoOther(scope, eventId, toUtcMs);
      const fromUtcMs = Math.max(event.airAtMs, toUtcMs - seconds * 1000);
      const id = newId();
      const row = await scope.add(RecordingEntity, {
        id,
        eventId,
        kind: 'clip',
        programmeId: newId(),
        slug: await this.#takeAddress(manager, event, id),
        madeFrom: { fromUtcMs, toUtcMs },
        title: titleOf(event, fromUtcMs),
        airAtMs: fromUtcMs,
        durationMs: 0,
        sizeBytes: 0,
        keptUntilMs: toUtcMs + KEPT_MS,
      });
      await scope.happened({
        subjectKind: 'recording',
        subjectId: id,
        kind: 'clip-saved',
        after: { seconds },
      });
      return recordingView(row, event);
    });
  }

  #takeAddress(manager: EntityManager, { slug, houseId }: EventEntity, targetId: string): Promise<string> {
    const wanted = `${slug.slice(0, SLUG_OF_EVENT_LENGTH)}-${randomText(SLUG_BITS)}`;
    return takeAddress(manager, wanted, { houseId, kind: 'clip', targetId });
  }
}

async function requireNoOther(scope: HouseScope, eventId: string, nowMs: number): Promise<void> {
  const [last] = await scope.find(RecordingEntity, {
    where: { eventId, kind: 'clip', durationMs: 0 },
    order: { airAtMs: 'DESC' },
    take: 1,
  });
  if (last?.madeFrom && nowMs - last.madeFrom.toUtcMs < ONE_WISH_MS)
    throw new ProblemError(409, 'clip-in-the-making');
}

function titleOf({ title, zone }: EventEntity, fromMs: number): string {
  const suffix = `, ${timeOfDay(fromMs, zone)}`;
  return title.slice(0, TITLE_LENGTH - suffix.length) + suffix;
}

/** A media node has made a clip; being told twice changes nothing. */
export async function keepClip(
  scope: HouseScope,
  row: RecordingEntity,
  { durationMs, gapsMs, sizeBytes }: Extract<Observation, { kind: 'recording-kept' }>,
): Promise<void> {
  if (row.durationMs > 0) return;
  if (durationMs === 0) return dropClip(scope, row);
  await scope.save(Object.assign(row, { durationMs, gapsMs, sizeBytes }));
  const after = { durationMs, sizeBytes };
  await scope.happened({ subjectKind: 'recording', subjectId: row.id, kind: 'clip-kept', after });
}

/** There was no picture to make a clip of. */
export async function dropClip(scope: HouseScope, row: RecordingEntity): Promise<void> {
  if (row.durationMs > 0) return;
  await scope.remove(RecordingEntity, { id: row.id });
  await scope.remove(AddressEntity, { targetId: row.id });
  const { eventId: subjectId, madeFrom: after } = row;
  await scope.happened({ subjectKind: 'event', subjectId, kind: 'clip-failed', after });
}
