import { inheritLook } from '@heliphon/core/appearance/look';
import { checkLook } from '@heliphon/core/appearance/look-check';
import { levelsAmong, saidOf, sayingRowsOf } from '../inherited/levels-of.js';
import type { HouseScope } from '../platform/database.js';
import type { EventEntity } from '../tables/event.entity.js';

/** How many colours of each event's page many people cannot read, by the events' ids. */
export async function poorColoursOf(
  scope: HouseScope,
  events: readonly EventEntity[],
): Promise<ReadonlyMap<string, number>> {
  const rows = await sayingRowsOf(scope, 'look');
  // A house has few looks and many events.
  const known = new Map<string, number>();
  return new Map(
    events.map((event) => {
      const said = saidOf(levelsAmong(rows, event), 'look');
      const key = JSON.stringify(said);
      const count = known.get(key) ?? checkLook(inheritLook(said).value).length;
      known.set(key, count);
      return [event.id, count];
    }),
  );
}
