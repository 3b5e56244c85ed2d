import type { HappeningKind } from '@heliphon/contracts/happenings';
import { having, payload } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { In, IsNull, MoreThan, Not } from 'typeorm';
import type { Observation } from '@heliphon/core/control/observations';
import type { EditRecording, RecordingFiles, RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { EventEntity } from '../tables/event.entity.js';
import { posterUrl } from '../events/event-view.js';
import { Grants } from '../nodes/grants.js';
import { LegEntity } from '../tables/leg.entity.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { RecordingEntity, RemovalEntity } from '../tables/recording.entity.js';

const DAY_MS = 24 * 3_600_000;
/** Half a year, unless somebody says otherwise. */
export const KEPT_MS = 183 * DAY_MS;
/** How long the bin gives back. */
export const BIN_MS = 30 * DAY_MS;

/** Some of its columns, as they were. */
const CHANGED = payload(having<Partial<RecordingEntity>>({}));

@Injectable()
export class RecordingsService {
  constructor(
    private readonly database: Database,
    private readonly grants: Grants,
    private readonly nodes: MediaNodes,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    for (const kind of ['recording-edited', 'recording-binned', 'recording-restored'] as const) {
      undo.register(kind, 'recordings.edit', CHANGED, async (scope, { subjectId, before }) => {
        const row = await scope.lock(RecordingEntity, { id: subjectId }, 'recording');
        await scope.save(Object.assign(row, before));
      });
    }
  }

  /** Newest first; either what is kept, or what is in the bin. */
  list(ctx: Context, isBin: boolean, wish: PageWish): Promise<Page<RecordingView>> {
    const where = { binnedAtMs: isBin ? Not(IsNull()) : IsNull(), durationMs: MoreThan(0) };
    const order = { by: 'airAtMs', descending: true, where } as const;
    // At one moment: one that waits for nothing any more is as long as that makes it.
    return this.database.snapshotOf(ctx, async (scope) => {
      const { rows, next } = await scope.page(RecordingEntity, order, wish);
      const events = await scope.find(EventEntity, { where: { id: In(rows.map((row) => row.eventId)) } });
      const byId = new Map(events.map((event) => [event.id, event]));
      const awaited = await this.#awaited(scope, events);
      return {
        items: rows.map((row) => recordingView(row, byId.get(row.eventId)!, awaited.get(row.programmeId))),
        next,
      };
    });
  }

  get(ctx: Context, id: string): Promise<RecordingView> {
    return this.database.snapshotOf(ctx, async (scope) =>
      this.#viewOf(scope, await scope.get(RecordingEntity, id, 'recording')),
    );
  }

  async edit(ctx: Context, id: string, version: number, change: EditRecording): Promise<RecordingView> {
    return this.#change(ctx, id, version, 'recording-edited', change);
  }

  setPoster(ctx: Context, id: string, version: number, posterId: string): Promise<RecordingView> {
    return this.#change(ctx, id, version, 'recording-edited', { posterId });
  }

  /** Into the bin: nobody can watch it any more, and it can be had back. */
  bin(ctx: Context, id: string): Promise<RecordingView> {
    return this.#change(ctx, id, null, 'recording-binned', { binnedAtMs: this.clock.nowMs() });
  }

  restore(ctx: Context, id: string): Promise<RecordingView> {
    return this.#change(ctx, id, null, 'recording-restored', { binnedAtMs: null });
  }

  /** Deletes for good what lies in the bin; the nodes take it off their disks. */
  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(RecordingEntity, { id }, 'recording');
      if (row.binnedAtMs === null) throw new ProblemError(409, 'not-in-the-bin');
      const { programmeId } = row;
      const atMs = this.clock.nowMs();
      for (const nodeId of this.nodes.ids) await scope.add(RemovalEntity, { programmeId, nodeId, atMs });
      await scope.remove(LegEntity, { programmeId });
      await scope.remove(RecordingEntity, { id });
      await scope.happened({
        subjectKind: 'recording',
        subjectId: id,
        kind: 'recording-deleted',
        before: row,
      });
    });
  }

  async files(ctx: Context, id: string, requestHost: string): Promise<RecordingFiles> {
    const scope = this.database.house(ctx);
    const row = await scope.get(RecordingEntity, id, 'recording');
    const event = await scope.get(EventEntity, row.eventId, 'event');
    const { programmeId } = row;
    return this.grants.recording({ ...event, programmeId }, recordingView(row, event).title, requestHost);
  }

  async #change(
    ctx: Context,
    id: string,
    version: number | null,
    kind: HappeningKind,
    change: Partial<RecordingEntity>,
  ): Promise<RecordingView> {
    return this.database.transaction(ctx, async (scope) => {
      const row =
        version === null
          ? await scope.lock(RecordingEntity, { id }, 'recording')
          : await scope.lockVersion(RecordingEntity, id, version, 'recording', (now) =>
              this.#viewOf(scope, now),
            );
      const fields = Object.keys(change) as (keyof RecordingEntity)[];
      const before = Object.fromEntries(fields.map((field) => [field, row[field]]));
      const saved = await scope.save(Object.assign(row, change));
      await scope.happened({ subjectKind: 'recording', subjectId: id, kind, before, after: change });
      return this.#viewOf(scope, saved);
    });
  }

  async #viewOf(scope: HouseScope, row: RecordingEntity): Promise<RecordingView> {
    const event = await scope.get(EventEntity, row.eventId, 'event');
    return recordingView(row, event, (await this.#awaited(scope, [event])).get(row.programmeId));
  }

  /** Where parts still lie that belong to recordings of these events, by their programmes. */
  async #awaited(scope: HouseScope, events: readonly EventEntity[]): Promise<Map<string, string[]>> {
    const programmeId = In(events.map((event) => event.programmeId));
    const legs = events.length > 0 ? await scope.find(LegEntity, { where: { programmeId } }) : [];
    const byProgramme = new Map<string, string[]>();
    for (const event of events) {
      const others = legs.filter(
        (leg) => leg.programmeId === event.programmeId && leg.nodeId !== event.nodeId,
      );
      const places = [...new Set(others.map(({ nodeId }) => this.nodes.nameOf(nodeId).place))];
      byProgramme.set(event.programmeId, places);
    }
    return byProgramme;
  }
}

/** Writes down that a node kept a recording, or more of it than before. One without any picture is none. */
export async function keepRecording(
  scope: HouseScope,
  kept: Extract<Observation, { kind: 'recording-kept' }>,
): Promise<void> {
  if (kept.durationMs === 0) return;
  const event = await scope.lock(EventEntity, { programmeId: kept.programmeId }, 'event');
  const known = await scope.findOne(RecordingEntity, { eventId: event.id, kind: 'whole' });
  if (known) return grow(scope, known, kept);
  const row = await scope.add(RecordingEntity, {
    id: newId(),
    eventId: event.id,
    kind: 'whole',
    programmeId: kept.programmeId,
    airAtMs: event.airAtMs ?? event.startsAtMs,
    durationMs: kept.durationMs,
    gapsMs: kept.gapsMs,
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

/** A part that lay at another node has come to it. */
async function grow(
  scope: HouseScope,
  row: RecordingEntity,
  { durationMs, gapsMs, sizeBytes }: Extract<Observation, { kind: 'recording-kept' }>,
): Promise<void> {
  if (durationMs <= row.durationMs) return;
  await scope.save(Object.assign(row, { durationMs, gapsMs, sizeBytes }));
  const after = { durationMs, sizeBytes };
  await scope.happened({ subjectKind: 'recording', subjectId: row.id, kind: 'recording-joined', after });
}

export const recordingView = (
  row: RecordingEntity,
  event: EventEntity,
  awaitedFrom: readonly string[] = [],
): RecordingView => ({
  id: row.id,
  version: row.version,
  eventId: row.eventId,
  kind: row.kind,
  title: row.title ?? event.title,
  description: row.description ?? event.description,
  slug: row.slug ?? event.slug,
  posterUrl: posterUrl(row.posterId ?? event.posterId),
  airAtMs: row.airAtMs,
  durationMs: row.durationMs + (row.keepsGaps ? row.gapsMs : 0),
  gapsMs: row.gapsMs,
  keepsGaps: row.keepsGaps,
  sizeBytes: row.sizeBytes,
  awaitedFrom,
  binnedAtMs: row.binnedAtMs,
  goneAtMs: row.binnedAtMs === null ? null : row.binnedAtMs + BIN_MS,
});
