import { Injectable } from '@nestjs/common';
import { In, LessThan } from 'typeorm';
import type { Observation } from '@heliphon/core/control/observations';
import type { RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { EventEntity } from '../events/event.entity.js';
import { posterUrl } from '../events/event-view.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { RecordingEntity } from './recording.entity.js';

/** Half a year, unless somebody says otherwise. */
const KEPT_MS = 183 * 24 * 3_600_000;

@Injectable()
export class RecordingsService {
  constructor(private readonly database: Database) {}

  /** Newest first. */
  async list(ctx: Context, after: string | null, limit: number): Promise<Page<RecordingView>> {
    const scope = this.database.house(ctx);
    const rows = await scope.find(RecordingEntity, {
      where: after ? { airAtMs: LessThan(Number(after) || 0) } : {},
      order: { airAtMs: 'DESC', id: 'DESC' },
      take: limit + 1,
    });
    const page = rows.slice(0, limit);
    const events = await scope.find(EventEntity, { where: { id: In(page.map((row) => row.eventId)) } });
    const byId = new Map(events.map((event) => [event.id, event]));
    return {
      items: page.map((row) => view(row, byId.get(row.eventId)!)),
      next: rows.length > limit ? String(page.at(-1)!.airAtMs) : null,
    };
  }
}

/** Writes down that a node kept a recording. One without any picture is none. */
export async function keepRecording(
  scope: HouseScope,
  kept: Extract<Observation, { kind: 'recording-kept' }>,
): Promise<void> {
  if (kept.durationMs === 0) return;
  const event = await scope.lock(EventEntity, { programmeId: kept.programmeId }, 'event');
  if (await scope.findOne(RecordingEntity, { eventId: event.id })) return;
  const row = await scope.add(RecordingEntity, {
    id: newId(),
    eventId: event.id,
    programmeId: kept.programmeId,
    airAtMs: event.airAtMs ?? event.startsAtMs,
    durationMs: kept.durationMs,
    sizeBytes: kept.sizeBytes,
    keptUntilMs: kept.atMs + KEPT_MS,
  });
  const { durationMs, sizeBytes } = kept;
  await scope.happened({
    subjectKind: 'recording',
    subjectId: row.id,
    kind: 'recording-kept',
    after: { durationMs, sizeBytes },
  });
}

const view = (row: RecordingEntity, event: EventEntity): RecordingView => ({
  id: row.id,
  eventId: row.eventId,
  title: event.title,
  slug: event.slug,
  posterUrl: posterUrl(event.posterId),
  airAtMs: row.airAtMs,
  durationMs: row.durationMs,
  sizeBytes: row.sizeBytes,
  keptUntilMs: row.keptUntilMs,
});
