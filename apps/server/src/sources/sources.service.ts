import { Inject, Injectable } from '@nestjs/common';
import { passwordVerifier } from '@heliphon/core/ingest/encoder-auth';
import type { EditSource, SourceKey, SourceNow, SourceView } from '@heliphon/contracts/sources';
import type { Page } from '@heliphon/contracts/problem';
import { EventEntity } from '../events/event.entity.js';
import { Grants } from '../media-link/grants.js';
import { LiveFigures } from '../media-link/live-figures.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { md5Base64, newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { SeriesEntity } from '../series/series.entity.js';
import { SourceEntity } from './source.entity.js';

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
    undo.register('source-edited', async (scope, { subjectId, before }) => {
      const row = await scope.lock(SourceEntity, { id: subjectId }, 'source');
      const { name, hasPassword } = before as SourceView;
      await scope.save(Object.assign(row, { name, hasPassword }));
    });
    undo.register('source-deleted', (scope, { before }) => scope.add(SourceEntity, before as SourceEntity));
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<SourceView>> {
    const { rows, next } = await this.database.house(ctx).page(SourceEntity, { by: 'name' }, wish);
    return { items: rows.map(view), next };
  }

  async add(ctx: Context, wish: { name: string; hasPassword: boolean }): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      const named = { id: newId(), houseId: ctx.houseId };
      const user = `encoder-${randomText(30)}`;
      const row = await scope.add(SourceEntity, { ...named, ...wish, user, ...this.#freshKey(named, user) });
      await scope.happened({ subjectKind: 'source', subjectId: row.id, kind: 'source-added', after: wish });
      return view(row);
    });
  }

  async edit(ctx: Context, id: string, version: number, change: EditSource): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.lockVersion(SourceEntity, id, version, 'source', view);
      const before = view(row);
      const saved = await scope.save(Object.assign(row, change));
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

  /** Key and password anew: the old ones are cut off at once. */
  async renewKey(ctx: Context, id: string): Promise<SourceView> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(SourceEntity, { id }, 'source');
      const saved = await scope.save(Object.assign(row, this.#freshKey(row, row.user)));
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
  await scope.remove(SourceEntity, { id });
  return row;
}

const view = (row: SourceEntity): SourceView => ({
  id: row.id,
  version: row.version,
  name: row.name,
  hasPassword: row.hasPassword,
  keyRenewedAtMs: row.keyRenewedAtMs,
});
