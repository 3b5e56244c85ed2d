import { Injectable } from '@nestjs/common';
import { In, IsNull } from 'typeorm';
import { inheritWatchRules, type OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { Level } from '@heliphon/core/inherited';
import type { WatchingView } from '@heliphon/contracts/watching';
import { ownWatchRulesSchema } from '@heliphon/contracts/watching.schema';
import { type Levels, saidOf } from '../inherited/levels-of.js';
import { above, type LevelRow, placed, readLevel, SaidDocument } from '../inherited/said-document.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { InvitedEntity } from '../tables/watching.entity.js';
import { turn } from './turn-grants.js';
import { passwordOf } from './watch-passwords.service.js';

/** What a house, its channels, series and events say of who may watch. */
@Injectable()
export class WatchingService {
  readonly #rules: SaidDocument<'watching'>;

  constructor(
    private readonly database: Database,
    clock: Clock,
    undo: UndoRegistry,
  ) {
    this.#rules = new SaidDocument(
      'watching',
      { house: 'house-watching-set', below: 'watching-set' },
      ownWatchRulesSchema,
      undo,
      (scope, manager) => turn(scope, manager, clock.nowMs(), true),
    );
  }

  async of(ctx: Context, level: Level, id: string): Promise<WatchingView> {
    const scope = this.database.house(ctx);
    return viewOf(scope, await readLevel(scope, level, id));
  }

  async set(
    ctx: Context,
    level: Level,
    id: string,
    version: number,
    own: OwnWatchRules,
  ): Promise<WatchingView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      const view = (row: LevelRow): Promise<WatchingView> => viewOf(scope, row);
      return view(await this.#rules.set(scope, manager, { level, id, version }, own, view));
    });
  }
}

async function viewOf(scope: HouseScope, row: LevelRow): Promise<WatchingView> {
  const { name, level, levels } = await placed(scope, row);
  const higher = above(levels, level);
  const [password, invited, invitedAbove] = await Promise.all([
    passwordOf(scope, levels),
    countInvited(
      scope,
      levels.filter((one) => one.level === level),
    ),
    countInvited(scope, higher),
  ]);
  return {
    id: row.id,
    level,
    name,
    own: row.watching ?? {},
    above: inheritWatchRules(saidOf(higher, 'watching')),
    version: row.version,
    passwordFrom: password?.level ?? null,
    invited,
    invitedAbove,
  };
}

const countInvited = (scope: HouseScope, levels: Levels): Promise<number> =>
  scope.count(InvitedEntity, { subjectId: In(levels.map(({ row }) => row.id)), withdrawnAtMs: IsNull() });
