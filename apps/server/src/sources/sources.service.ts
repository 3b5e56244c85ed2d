import { Inject, Injectable } from '@nestjs/common';
import { type EntityManager, In, IsNull, MoreThan, Not } from 'typeorm';
import { passwordVerifier } from '@heliphon/core/ingest/encoder-auth';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import { advisePicture, PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import type {
  AddSource,
  AdviseSource,
  EditSource,
  Shown,
  SourceEvent,
  SourceKey,
  SourceNow,
  SourceView,
} from '@heliphon/contracts/sources';
import type { Page } from '@heliphon/contracts/problem';
import { BoxEntity } from '../boxes/box.entity.js';
import { EventEntity } from '../events/event.entity.js';
import { FileEntity } from '../files/file.entity.js';
import { filmLength } from '../files/film-length.js';
import { Grants } from '../media-link/grants.js';
import { LiveFigures } from '../media-link/live-figures.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { md5Base64, newId, randomText, sha256Hex } from '../platform/ids.js';
import { mediaUrlOf } from '../platform/media-url.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { SeriesEntity } from '../series/series.entity.js';
import { checkFollowed } from './followed.js';
import { SourceEntity } from './source.entity.js';

const KEY_BITS = 160;
const PASSWORD_BITS = 60;
const PASSPHRASE_BITS = 100;

type Named = Pick<SourceEntity, 'houseId' | 'id'>;
const keyPlace = ({ houseId, id }: Named): SealPlace => ({
  houseId,
  table: 'sources',
  column: 'sealed_key',
  id,
});
const passwordPlace = ({ houseId, id }: Named): SealPlace => ({
  houseId,
  table: 'sources',
  column: 'sealed_password',
  id,
});

const passphrasePlace = ({ houseId, id }: Named): SealPlace => ({
  houseId,
  table: 'sources',
  column: 'sealed_passphrase',
  id,
});

@Injectable()
export class SourcesService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly figures: LiveFigures,
    private readonly grants: Grants,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
    undo: UndoRegistry,
  ) {
    undo.register('source-added', (scope, { subjectId }) => removeRow(scope, subjectId));
    undo.register('source-edited', async (scope, { subjectId, before }, manager) => {
      const row = await scope.lock(SourceEntity, { id: subjectId }, 'source');
      const { name, hasPassword, followsEventId, followsSeriesId, fileId, srt } = before as SourceView;
      await this.#setSrt(manager, row, srt);
      await scope.save(Object.assign(row, { name, hasPassword, followsEventId, followsSeriesId, fileId }));
    });
    undo.register('source-advised', async (scope, { subjectId, before }) => {
      const row = await scope.lock(SourceEntity, { id: subjectId }, 'source');
      await scope.save(Object.assign(row, before as AdviceRow));
    });
    // Its port for SRT may be another's by now.
    undo.register('source-deleted', (scope, { before }) =>
      scope.add(SourceEntity, { ...(before as SourceEntity), srtSlot: null, sealedPassphrase: null }),
    );
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<SourceView>> {
    const { rows, next } = await this.database.house(ctx).page(SourceEntity, { by: 'name' }, wish);
    const scope = this.database.house(ctx);
    const [names, events] = await Promise.all([
      namesOfShown(scope, rows),
      nextEvents(scope, rows, this.clock.nowMs()),
    ]);
    return { items: rows.map((row) => view(row, names.get(row.id), events.get(row.id))), next };
  }

  async add(ctx: Context, wish: AddSource): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      await checkShown(scope, wish);
      const named = { id: newId(), houseId: ctx.houseId };
      const user = `encoder-${randomText(30)}`;
      const row = await scope.add(SourceEntity, {
        ...named,
        ...wish,
        user,
        ...this.#freshKey(named, user),
      });
      await scope.happened({ subjectKind: 'source', subjectId: row.id, kind: 'source-added', after: wish });
      return view(row);
    });
  }

  async edit(ctx: Context, id: string, version: number, change: EditSource): Promise<SourceView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const row = await scope.lockVersion(SourceEntity, id, version, 'source', view);
      const before = view(row);
      const { srt, ...plain } = change;
      if (srt !== undefined) await this.#setSrt(manager, row, srt);
      if (change.followsEventId) row.followsSeriesId = null;
      if (change.followsSeriesId) row.followsEventId = null;
      Object.assign(row, plain);
      await checkShown(scope, row);
      if (row.kind === 'programme') await checkFollowed(scope, row);
      const saved = await scope.save(row);
      await scope.happened({
        subjectKind: 'source',
        subjectId: id,
        kind: 'source-edited',
        before,
        after: view(saved),
      });
      return view(saved);
    });
  }

  /** Opens the lowest port that is free for a source, or gives its own back. */
  async #setSrt(
    manager: EntityManager,
    row: SourceEntity,
    srt: NonNullable<EditSource['srt']> | null,
  ): Promise<void> {
    if (row.kind !== 'device') throw refusedField('srt', 'source-takes-no-camera');
    if (srt === null) {
      Object.assign(row, { srtSlot: null, sealedPassphrase: null });
      return;
    }
    row.srtLatencyMs = srt.latencyMs;
    if (row.srtSlot !== null) return;
    const taken = await manager.find(SourceEntity, {
      where: { srtSlot: Not(IsNull()) },
      select: { id: true, srtSlot: true },
    });
    const free = Array.from({ length: SRT_LIMITS.slots }, (_, slot) => slot).find(
      (slot) => !taken.some(({ srtSlot }) => srtSlot === slot),
    );
    if (free === undefined) throw new ProblemError(409, 'srt-ports-taken', { most: SRT_LIMITS.slots });
    row.srtSlot = free;
    row.sealedPassphrase = this.#freshPassphrase(row);
  }

  #freshPassphrase(named: Named): string {
    return this.secrets.seal(randomText(PASSPHRASE_BITS), passphrasePlace(named));
  }

  /** @throws Error for a source that is not reached over SRT */
  passphraseOf(row: SourceEntity): string {
    return this.secrets.open(row.sealedPassphrase!, passphrasePlace(row));
  }

  /** Keeps what was measured, and the picture that was chosen instead of the safe one. */
  async advise(ctx: Context, id: string, { uploadBps, size }: AdviseSource): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(SourceEntity, { id }, 'source');
      const before = adviceRow(row);
      if (uploadBps !== null && uploadBps !== row.adviceUploadBps) {
        row.adviceUploadBps = uploadBps;
        row.adviceMeasuredAtMs = this.clock.nowMs();
      }
      row.adviceSize = size;
      const saved = await scope.save(row);
      const after = adviceRow(saved);
      await scope.happened({ subjectKind: 'source', subjectId: id, kind: 'source-advised', before, after });
      return view(saved);
    });
  }

  /** Key and password anew: the old ones are cut off at once. */
  async renewKey(ctx: Context, id: string): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(SourceEntity, { id }, 'source');
      Object.assign(row, this.#freshKey(row, row.user));
      if (row.srtSlot !== null) row.sealedPassphrase = this.#freshPassphrase(row);
      const saved = await scope.save(row);
      await scope.happened({ subjectKind: 'source', subjectId: id, kind: 'key-renewed' });
      return view(saved);
    });
  }

  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const before = await removeRow(scope, id);
      await scope.happened({ subjectKind: 'source', subjectId: id, kind: 'source-deleted', before });
    });
  }

  /** @param requestHost - `host[:port]` of the request, from which the RTMP address follows unless it is set. */
  async key(ctx: Context, id: string, requestHost: string): Promise<SourceKey> {
    const row = await this.database.house(ctx).get(SourceEntity, id, 'source');
    const base = this.config.rtmpUrl ?? `rtmp://${requestHost.replace(/:\d+$/, '')}:${this.config.rtmpPort}`;
    // A name in the application lets the very first connection be challenged for the password.
    const application = row.hasPassword ? `in/${row.user}` : 'in';
    return {
      address: `${base.replace(/\/$/, '')}/${application}`,
      secureAddress: this.config.rtmpsUrl && `${this.config.rtmpsUrl.replace(/\/$/, '')}/${application}`,
      key: this.secrets.open(row.sealedKey, keyPlace(row)),
      user: row.hasPassword ? row.user : null,
      password: row.hasPassword ? this.secrets.open(row.sealedPassword, passwordPlace(row)) : null,
      whip: row.hasPassword ? null : `${mediaUrlOf(this.config, requestHost)}/whip`,
      srt:
        row.srtSlot === null
          ? null
          : {
              address: `srt://${new URL(base).hostname}:${this.config.srtFirstPort + row.srtSlot}`,
              passphrase: this.passphraseOf(row),
              latencyMs: row.srtLatencyMs,
            },
    };
  }

  /** Every source of a house as it is at this moment. */
  async now(ctx: Context, requestHost: string): Promise<SourceNow[]> {
    const rows = await this.database.house(ctx).find(SourceEntity, { take: 200 });
    return rows.map((row) => this.nowOf(row.id, requestHost));
  }

  nowOf(sourceId: string, requestHost: string): SourceNow {
    const live = this.figures.sourceOf(sourceId);
    const takenAtMs = live?.pictureTakenAtMs ?? null;
    return {
      sourceId,
      report: live?.report ?? null,
      pictureUrl: takenAtMs === null ? null : this.grants.picture(sourceId, takenAtMs, requestHost),
      lastRefusal: this.figures.lastRefusalOf(sourceId),
    };
  }

  #freshKey(named: Named, user: string): Partial<SourceEntity> {
    const key = randomText(KEY_BITS);
    const password = randomText(PASSWORD_BITS);
    const salt = randomText(40);
    return {
      keySha256Hex: sha256Hex(key),
      sealedKey: this.secrets.seal(key, keyPlace(named)),
      sealedPassword: this.secrets.seal(password, passwordPlace(named)),
      salt,
      passwordVerifier: passwordVerifier(user, salt, password, md5Base64),
      keyRenewedAtMs: this.clock.nowMs(),
    };
  }
}

async function removeRow(scope: HouseScope, id: string): Promise<SourceEntity> {
  const row = await scope.lock(SourceEntity, { id }, 'source');
  const user =
    (await scope.findOne(EventEntity, { sourceId: id })) ??
    (await scope.findOne(SeriesEntity, { sourceId: id }));
  if (user) throw new ProblemError(409, 'source-in-use', { title: user.title });
  const box = await scope.findOne(BoxEntity, { sourceId: id });
  if (box) throw new ProblemError(409, 'source-of-box', { name: box.name });
  await scope.remove(SourceEntity, { id });
  return row;
}

type AdviceRow = Pick<SourceEntity, 'adviceUploadBps' | 'adviceMeasuredAtMs' | 'adviceSize'>;
const adviceRow = ({ adviceUploadBps, adviceMeasuredAtMs, adviceSize }: SourceEntity): AdviceRow => ({
  adviceUploadBps,
  adviceMeasuredAtMs,
  adviceSize,
});

/** What an encoder of this source is advised; `null` where nobody measured or chose. */
export function adviceOf(row: AdviceRow): SourceView['advice'] {
  const { adviceUploadBps: uploadBps, adviceMeasuredAtMs: measuredAtMs } = row;
  if (uploadBps === null && row.adviceSize === null) return null;
  const chosen = PICTURE_SIZES.find(({ name }) => name === row.adviceSize);
  return { uploadBps, measuredAtMs, size: chosen ?? advisePicture(uploadBps ?? 0) };
}

const view = (
  row: SourceEntity,
  shows: string | null = null,
  events: readonly SourceEvent[] = [],
): SourceView => ({
  id: row.id,
  version: row.version,
  name: row.name,
  hasPassword: row.hasPassword,
  keyRenewedAtMs: row.keyRenewedAtMs,
  lastSeenAtMs: row.lastSeenAtMs,
  kind: row.kind,
  followsEventId: row.followsEventId,
  followsSeriesId: row.followsSeriesId,
  fileId: row.fileId,
  shows,
  events,
  advice: adviceOf(row),
  srt: row.srtSlot === null ? null : { latencyMs: row.srtLatencyMs },
});

/** What a source shows has to be there, and of its kind. @throws ProblemError 404, or 422 naming the field */
async function checkShown(scope: HouseScope, source: Shown): Promise<void> {
  const { kind, followsEventId, followsSeriesId, fileId } = source;
  if (followsEventId) await scope.get(EventEntity, followsEventId, 'event');
  if (followsSeriesId) await scope.get(SeriesEntity, followsSeriesId, 'series');
  if (fileId) await filmLength(scope, fileId, 'fileId');
  const isComplete =
    kind === 'device'
      ? !followsEventId && !followsSeriesId && !fileId
      : kind === 'file'
        ? Boolean(fileId)
        : Boolean(followsEventId) !== Boolean(followsSeriesId);
  if (!isComplete) throw refusedField(kind === 'file' ? 'fileId' : 'followsEventId', 'shown-missing');
}

const EVENTS_SHOWN = 3;
/** What began before does not run any more. */
const LONGEST_MS = 2 * 24 * 3_600_000;
/** Events of a source that are looked through for the next ones: a year of Sundays for each of twenty. */
const EVENTS_READ = 1000;

/** The next events with each of these sources, by the sources' ids. */
async function nextEvents(
  scope: HouseScope,
  rows: readonly SourceEntity[],
  nowMs: number,
): Promise<ReadonlyMap<string, readonly SourceEvent[]>> {
  if (rows.length === 0) return new Map();
  const found = await scope.find(EventEntity, {
    where: {
      sourceId: In(rows.map(({ id }) => id)),
      startsAtMs: MoreThan(nowMs - LONGEST_MS),
      state: In(['planned', 'doors', 'air']),
      isDraft: false,
      rehearsalOf: IsNull(),
    },
    select: { id: true, title: true, startsAtMs: true, sourceId: true },
    order: { startsAtMs: 'ASC' },
    take: EVENTS_READ,
  });
  const bySource = new Map<string, SourceEvent[]>();
  for (const { id, title, startsAtMs, sourceId } of found) {
    const own = bySource.get(sourceId!) ?? [];
    if (own.length < EVENTS_SHOWN) own.push({ id, title, startsAtMs });
    bySource.set(sourceId!, own);
  }
  return bySource;
}

/** What is shown by each source that shows something of the house, by the sources' ids. */
async function namesOfShown(
  scope: HouseScope,
  rows: readonly SourceEntity[],
): Promise<ReadonlyMap<string, string>> {
  const idsOf = (field: 'followsEventId' | 'followsSeriesId' | 'fileId'): string[] =>
    rows.flatMap((row) => row[field] ?? []);
  const named = async (
    entity: typeof EventEntity | typeof SeriesEntity | typeof FileEntity,
    ids: string[],
  ): Promise<[string, string][]> => {
    if (ids.length === 0) return [];
    const found = await scope.find<EventEntity | SeriesEntity | FileEntity>(entity, {
      where: { id: In(ids) },
    });
    return found.map((one) => [one.id, 'title' in one ? one.title : one.name]);
  };
  const names = new Map([
    ...(await named(EventEntity, idsOf('followsEventId'))),
    ...(await named(SeriesEntity, idsOf('followsSeriesId'))),
    ...(await named(FileEntity, idsOf('fileId'))),
  ]);
  return new Map(
    rows.flatMap(({ id, followsEventId, followsSeriesId, fileId }) => {
      const name = names.get(followsEventId ?? followsSeriesId ?? fileId ?? '');
      return name === undefined ? [] : [[id, name] as const];
    }),
  );
}
