import { inheritWatchRules, isListed, type WatchPhase } from '@heliphon/core/access/watch-rules';
import { type InheritingEvent, levelsAmong, saidOf, sayingRowsOf } from '../inherited/levels-of.js';
import type { HouseScope } from '../platform/database.js';

/** Tells which events of a house anybody may come across. */
export async function listedOnly(
  scope: HouseScope,
): Promise<(event: InheritingEvent, phase: WatchPhase) => boolean> {
  const rows = await sayingRowsOf(scope, 'watching');
  return (event, phase) =>
    isListed(inheritWatchRules(saidOf(levelsAmong(rows, event), 'watching')).value, phase);
}
