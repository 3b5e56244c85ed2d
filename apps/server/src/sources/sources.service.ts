import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { passwordVerifier } from '@heliphon/core/ingest/encoder-auth';
import type {
  AddSource,
  AdviseSource,
  EditSource,
  SourceKey,
  SourceNow,
  SourceView,
} from '@heliphon/contracts/sources';
import type { Page } from '@heliphon/contracts/problem';
import { BoxEntity } from '../tables/box.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import { Grants } from '../nodes/grants.js';
import { LiveFigures } from '../live/live-figures.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { md5Base64, newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { checkFollowed, checkShown } from '../schedule/followed.js';
import { SourceEntity } from '../tables/source.entity.js';
import { namesOfShown, nextEvents } from './source-lists.js';
import { type AdviceRow, adviceRow, sourceView } from './source-view.js';
import { SrtPorts } from './srt-ports.js';

const KEY_BITS = 160;
const PASSWORD_BITS = 60;

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

const EDITED = payload(having<SourceView>({ name: textKey.required() }));
const ADVISED = payload(having<AdviceRow>({ adviceSize: textKey.allow(null).required() }));
const DELETED = payload(having<SourceEntity>({ id: idKey.required(), name: textKey.required() }));

@Injectable()
export class SourcesService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly figures: LiveFigures,
    private readonly grants: Grants,
    private readonly clock: Clock,
    private readonly srt: SrtPorts,
    private readonly nodes: MediaNodes,
    undo: UndoRegistry,
  ) {
    undo.register('source-added', 'sources.edit', payload(), (scope, { subjectId }) =>
      removeRow(scope, subjectId),
    );
    undo.register('source-edited', 'sources.edit', EDITED, async (scope, { subjectId, before }, manager) => {
      const row = await scope.lock(SourceEntity, { id: subjectId }, 'source');
      const { name, hasPassword, followsEventId, followsSeriesId, fileId, nodeId, srt } = before;
      await this.srt.set(manager, row, srt);
      const shown = { followsEventId, followsSeriesId, fileId };
      await scope.save(Object.assign(row, { name, hasPassword, nodeId, ...shown }));
    });
    undo.register('source-advised', 'sources.connect', ADVISED, async (scope, { subjectId, before }) => {
      const row = await scope.lock(SourceEntity, { id: subjectId }, 'source');
      await scope.save(Object.assign(row, before));
    });
    // Its port for SRT may be another's by now.
    undo.register('source-deleted', 'sources.edit', DELETED, (scope, { before }) =>
      scope.add(SourceEntity, { ...before, srtSlot: null, sealedPassphrase: null }),
    );
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<SourceView>> {
    const { rows, next } = await this.database.house(ctx).page(SourceEntity, { by: 'name' }, wish);
    const scope = this.database.house(ctx);
    const [names, events] = await Promise.all([
      namesOfShown(scope, rows),
      nextEvents(scope, rows, this.clock.nowMs()),
    ]);
    return { items: rows.map((row) => sourceView(row, names.get(row.id), events.get(row.id))), next };
  }

  async add(ctx: Context, wish: AddSource): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      await checkShown(scope, wish);
      this.#checkPoint(wish.nodeId);
      const named = { id: newId(), houseId: ctx.houseId };
      const user = `encoder-${randomText(30)}`;
      const row = await scope.add(SourceEntity, {
        ...named,
        ...wish,
        user,
        ...this.#freshKey(named, user),
      });
      await scope.happened({ subjectKind: 'source', subjectId: row.id, kind: 'source-added', after: wish });
      return sourceView(row);
    });
  }

  async edit(ctx: Context, id: string, version: number, change: EditSource): Promise<SourceView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const row = await scope.lockVersion(SourceEntity, id, version, 'source', sourceView);
      const before = sourceView(row);
      const { srt, ...plain } = change;
      if (srt !== undefined) await this.srt.set(manager, row, srt);
      if (change.followsEventId) row.followsSeriesId = null;
      if (change.followsSeriesId) row.followsEventId = null;
      Object.assign(row, plain);
      if (change.nodeId) this.#checkPoint(change.nodeId);
      await checkShown(scope, row);
      if (row.kind === 'programme') await checkFollowed(scope, row);
      const saved = await scope.save(row);
      await scope.happened({
        subjectKind: 'source',
        subjectId: id,
        kind: 'source-edited',
        before,
        after: sourceView(saved),
      });
      return sourceView(saved);
    });
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
      return sourceView(saved);
    });
  }

  /** A new key and password: the old ones are cut off at once. */
  async renewKey(ctx: Context, id: string): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(SourceEntity, { id }, 'source');
      Object.assign(row, this.#freshKey(row, row.user));
      this.srt.renew(row);
      const saved = await scope.save(row);
      await scope.happened({ subjectKind: 'source', subjectId: id, kind: 'key-renewed' });
      return sourceView(saved);
    });
  }

  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const before = await removeRow(scope, id);
      await scope.happened({ subjectKind: 'source', subjectId: id, kind: 'source-deleted', before });
    });
  }

  /** @param requestHost - `host[:port]` of the request, from which addresses follow unless they are set. */
  async key(ctx: Context, id: string, requestHost: string): Promise<SourceKey> {
    const row = await this.database.house(ctx).get(SourceEntity, id, 'source');
    return this.#keyAt(row, row.nodeId, requestHost);
  }

  /** For what changes its address by itself: it stays where it arrives, whatever else is nearer or back again. */
  keyOfSending(row: SourceEntity, requestHost: string): SourceKey {
    return this.#keyAt(row, this.figures.nodesWith(row.id)[0] ?? row.nodeId, requestHost);
  }

  #keyAt(row: SourceEntity, chosen: string | null, requestHost: string): SourceKey {
    const [first = null, other = null] = this.nodes.ways(chosen, requestHost);
    const node = this.nodes.addressesOf(first?.nodeId ?? null, requestHost);
    // A name in the application lets the very first connection be challenged for the password.
    const application = row.hasPassword ? `in/${row.user}` : 'in';
    return {
      point: first && this.nodes.nameOf(first.nodeId),
      address: `${node.rtmp}/${application}`,
      second: other && {
        point: this.nodes.nameOf(other.nodeId),
        address: `${this.nodes.addressesOf(other.nodeId, requestHost).rtmp}/${application}`,
      },
      secureAddress: node.rtmps && `${node.rtmps}/${application}`,
      key: this.secrets.open(row.sealedKey, keyPlace(row)),
      user: row.hasPassword ? row.user : null,
      password: row.hasPassword ? this.secrets.open(row.sealedPassword, passwordPlace(row)) : null,
      whip: row.hasPassword ? null : node.whip,
      srt: this.srt.shown(row, node),
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
      nodeId: live?.nodeId ?? null,
      report: live?.report ?? null,
      pictureUrl:
        live && takenAtMs !== null
          ? this.grants.picture(sourceId, live.nodeId, takenAtMs, requestHost)
          : null,
      lastRefusal: this.figures.lastRefusalOf(sourceId),
    };
  }

  /** @throws ProblemError 422 for a node that is none of ours */
  #checkPoint(nodeId: string | null): void {
    if (nodeId !== null && !this.nodes.ids.includes(nodeId)) throw refusedField('nodeId', 'unknown-point');
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
    (await scope.findOne(EventEntity, { standbySourceId: id })) ??
    (await scope.findOne(SeriesEntity, { sourceId: id })) ??
    (await scope.findOne(SeriesEntity, { standbySourceId: id }));
  if (user) throw new ProblemError(409, 'source-in-use', { title: user.title });
  const box = await scope.findOne(BoxEntity, { sourceId: id });
  if (box) throw new ProblemError(409, 'source-of-box', { name: box.name });
  await scope.remove(SourceEntity, { id });
  return row;
}
