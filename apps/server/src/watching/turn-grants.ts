import type { EntityManager } from 'typeorm';
import { NO_TURNS, turnGrants } from '@heliphon/core/access/guarded-grant';
import type { HouseScope } from '../platform/database.js';

/**
 * Fewer may watch: what was granted in the house stops being good within a minute, and those who still may get the next.
 * @param endsPublic - also what was granted to everybody
 */
export async function turn(
  scope: HouseScope,
  manager: EntityManager,
  nowMs: number,
  endsPublic: boolean,
): Promise<void> {
  const { id, grantTurns } = await scope.lockHouse();
  const turned = turnGrants(grantTurns ?? NO_TURNS, nowMs, endsPublic);
  // Nobody edits this: the house's version stays.
  await manager.query('UPDATE houses SET grant_turns = ? WHERE id = ?', [JSON.stringify(turned), id]);
}
