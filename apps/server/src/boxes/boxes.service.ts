import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { MoreThan } from 'typeorm';
import { CODE_RULE } from '@heliphon/core/access/token-bucket';
import { type BoxReport, readUserCode } from '@heliphon/core/pairing/device-grant';
import type { BoxOrders, BoxView, EditBox, PairBox } from '@heliphon/contracts/boxes';
import type { Page } from '@heliphon/contracts/problem';
import { DEVICE } from '@heliphon/contracts/sources';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { newId, sha256Hex } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { SourceEntity } from '../tables/source.entity.js';
import { SourcesService } from '../sources/sources.service.js';
import { BoxEntity, PairingEntity } from '../tables/box.entity.js';

const EDITED = payload(having<BoxView>({ name: textKey.required(), sourceId: idKey.required() }));

/** Encoder boxes of a house: paired by the code they show, named, given another source, and let go. */
@Injectable()
export class BoxesService {
  /** Anyone who types code after code is guessing; a whole house shares one allowance. */
  readonly #guessing: Limiter;

  constructor(
    private readonly database: Database,
    private readonly sources: SourcesService,
    private readonly nodes: MediaNodes,
    private readonly clock: Clock,
    buckets: Buckets,
    undo: UndoRegistry,
  ) {
    this.#guessing = new Limiter(buckets, 'pairing codes', CODE_RULE);
    undo.register('box-edited', 'sources.edit', EDITED, async (scope, { subjectId, before }) => {
      const box = await scope.lock(BoxEntity, { id: subjectId }, 'box');
      const { name, sourceId } = before;
      await scope.save(Object.assign(box, { name, sourceId }));
    });
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<BoxView>> {
    const { rows, next } = await this.database.house(ctx).page(BoxEntity, { by: 'name' }, wish);
    return { items: rows.map(view), next };
  }

  /** @throws ProblemError 422 for a code that no box shows, 429 after too many of them */
  async pair(ctx: Context, { userCode, name, sourceId }: PairBox): Promise<BoxView> {
    await this.#guessing.require(ctx.houseId, 'too-many-tries');
    const code = readUserCode(userCode);
    if (code === null) throw refusedField('userCode', 'pairing-code-wrong');
    const source =
      sourceId ?? (await this.sources.add(ctx, { ...DEVICE, name, hasPassword: false, nodeId: null })).id;
    try {
      return await this.#pairWith(ctx, code, name, source);
    } catch (error) {
      if (sourceId === null) await this.sources.remove(ctx, source);
      throw error;
    }
  }

  async #pairWith(ctx: Context, userCode: string, name: string, sourceId: string): Promise<BoxView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      await deviceOf(scope, sourceId);
      const pairing = await manager.findOne(PairingEntity, {
        where: { userCode, state: 'waiting', expiresAtMs: MoreThan(this.clock.nowMs()) },
        lock: { mode: 'pessimistic_write' },
      });
      if (!pairing) throw refusedField('userCode', 'pairing-code-wrong');
      const box = await scope.add(BoxEntity, {
        id: newId(),
        sourceId,
        name,
        model: pairing.model,
        tokenSha256Hex: null,
        pairedAtMs: this.clock.nowMs(),
        lastSeenAtMs: null,
        report: null,
      });
      await manager.update(PairingEntity, { id: pairing.id }, { state: 'granted', boxId: box.id });
      const after = { name, model: box.model, sourceId };
      await scope.happened({ subjectKind: 'box', subjectId: box.id, kind: 'box-paired', after });
      await this.#guessing.forget(ctx.houseId);
      return view(box);
    });
  }

  async edit(ctx: Context, id: string, version: number, change: EditBox): Promise<BoxView> {
    return this.database.transaction(ctx, async (scope) => {
      const box = await scope.lockVersion(BoxEntity, id, version, 'box', view);
      if (change.sourceId !== undefined) await deviceOf(scope, change.sourceId);
      const before = view(box);
      const saved = await scope.save(Object.assign(box, change));
      const after = view(saved);
      await scope.happened({ subjectKind: 'box', subjectId: id, kind: 'box-edited', before, after });
      return after;
    });
  }

  /** Its token is worth nothing any more, and the key it had is renewed: it is cut off at once. */
  async letGo(ctx: Context, id: string): Promise<void> {
    const sourceId = await this.database.transaction(ctx, async (scope) => {
      const box = await scope.lock(BoxEntity, { id }, 'box');
      await scope.remove(BoxEntity, { id });
      await scope.happened({ subjectKind: 'box', subjectId: id, kind: 'box-let-go', before: view(box) });
      return box.sourceId;
    });
    await this.sources.renewKey(ctx, sourceId);
  }

  /** Takes a box's word of itself, and tells it where to send. @throws ProblemError 401 for a box that was let go */
  async report(token: string, report: BoxReport, requestHost: string): Promise<BoxOrders> {
    const manager = this.database.installation;
    const box = await manager.findOneBy(BoxEntity, { tokenSha256Hex: sha256Hex(token) });
    if (!box) throw new ProblemError(401, 'not-signed-in');
    // Not an edit: neither a new version nor a line in the record.
    await manager.query('UPDATE boxes SET last_seen_at = ?, report = ? WHERE id = ?', [
      new Date(this.clock.nowMs()),
      JSON.stringify(report),
      box.id,
    ]);
    const source = await manager.findOneByOrFail(SourceEntity, { id: box.sourceId });
    const { nearestNodeId } = report;
    if (nearestNodeId !== null && nearestNodeId !== source.nodeId && this.nodes.ids.includes(nearestNodeId)) {
      await manager.query('UPDATE sources SET node_id = ? WHERE id = ?', [nearestNodeId, source.id]);
      source.nodeId = nearestNodeId;
    }
    const connect = this.sources.keyOfSending(source, requestHost);
    const points = this.nodes.ways(source.nodeId, requestHost);
    return { name: box.name, sourceName: source.name, connect, points };
  }
}

async function deviceOf(scope: HouseScope, sourceId: string): Promise<void> {
  const source = await scope.get(SourceEntity, sourceId, 'source');
  if (source.kind !== 'device') throw refusedField('sourceId', 'source-takes-no-camera');
}

const view = (box: BoxEntity): BoxView => ({
  id: box.id,
  version: box.version,
  name: box.name,
  model: box.model,
  sourceId: box.sourceId,
  pairedAtMs: box.pairedAtMs,
  lastSeenAtMs: box.lastSeenAtMs,
  report: box.report,
});
