import { Injectable } from '@nestjs/common';
import { In } from 'typeorm';
import type { Level } from '@heliphon/core/inherited';
import type { WatchPassword } from '@heliphon/contracts/watching';
import type { Levels } from '../inherited/levels-of.js';
import { readLevel } from '../inherited/said-document.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { notFound } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { WatchPasswordEntity } from '../tables/watching.entity.js';
import { turn } from './turn-grants.js';

const sealPlace = ({ houseId, id }: Pick<WatchPasswordEntity, 'houseId' | 'id'>): SealPlace => ({
  houseId,
  table: 'watch_passwords',
  column: 'sealed_password',
  id,
});

/** The password of the narrowest level that has one; `null` for none. */
export async function passwordOf(scope: HouseScope, levels: Levels): Promise<WatchPasswordEntity | null> {
  const ids = levels.map(({ row }) => row.id);
  const rows = await scope.find(WatchPasswordEntity, { where: { subjectId: In(ids) } });
  return ids.reduce<WatchPasswordEntity | null>(
    (found, id) => rows.find(({ subjectId }) => subjectId === id) ?? found,
    null,
  );
}

/** Passwords by which people may watch. The house tells them, so that its people can read them again. */
@Injectable()
export class WatchPasswordsService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 404 where none was set */
  async read(ctx: Context, level: Level, subjectId: string): Promise<WatchPassword> {
    const scope = this.database.house(ctx);
    await readLevel(scope, level, subjectId);
    const row = await scope.findOne(WatchPasswordEntity, { subjectId });
    if (!row) throw notFound('password');
    return { password: this.open(row) };
  }

  open(row: WatchPasswordEntity): string {
    return this.secrets.open(row.sealedPassword, sealPlace(row));
  }

  /** Viewers who came in by the one before are out within a minute. */
  async set(ctx: Context, level: Level, subjectId: string, password: string): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      await readLevel(scope, level, subjectId);
      await scope.remove(WatchPasswordEntity, { subjectId });
      const named = { id: newId(), houseId: ctx.houseId };
      const sealedPassword = this.secrets.seal(password, sealPlace(named));
      const changedAtMs = this.clock.nowMs();
      await scope.add(WatchPasswordEntity, { ...named, level, subjectId, sealedPassword, changedAtMs });
      await turn(scope, manager, changedAtMs, false);
      await scope.happened({ subjectKind: level, subjectId, kind: 'watch-password-set' });
    });
  }

  /** The one from above holds again, where there is one. */
  async remove(ctx: Context, level: Level, subjectId: string): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      await readLevel(scope, level, subjectId);
      await scope.remove(WatchPasswordEntity, { subjectId });
      await turn(scope, manager, this.clock.nowMs(), false);
      await scope.happened({ subjectKind: level, subjectId, kind: 'watch-password-removed' });
    });
  }
}
