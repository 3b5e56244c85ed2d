import { In, IsNull } from 'typeorm';
import { inheritWatchRules } from '@heliphon/core/access/watch-rules';
import type { ReadinessFacts } from '@heliphon/core/readiness/readiness';
import { levelsAmong, saidOf, sayingRowsOf } from '../inherited/levels-of.js';
import type { HouseScope } from '../platform/database.js';
import type { EventEntity } from '../tables/event.entity.js';
import { InvitedEntity, WatchPasswordEntity } from '../tables/watching.entity.js';

/** Why nobody could watch each event live, by the events' ids: events that somebody can watch are left out. */
export async function nobodyCanWatch(
  scope: HouseScope,
  events: readonly EventEntity[],
): Promise<ReadonlyMap<string, NonNullable<ReadinessFacts['nobodyCanWatch']>>> {
  const rows = await sayingRowsOf(scope, 'watching');
  const asked = events.flatMap((event) => {
    const { live } = inheritWatchRules(saidOf(levelsAmong(rows, event), 'watching')).value;
    return live === 'password' || live === 'invited' ? [{ event, live }] : [];
  });
  if (asked.length === 0) return new Map();
  // Rows that say nothing of who may watch can have a password all the same.
  const subjects = (event: EventEntity): string[] =>
    [event.houseId, event.channelId, event.seriesId, event.id].filter((id) => id !== null);
  const subjectId = In([...new Set(asked.flatMap(({ event }) => subjects(event)))]);
  const select = { subjectId: true } as const;
  const [passwords, invited] = await Promise.all([
    scope.find(WatchPasswordEntity, { where: { subjectId }, select }),
    scope.find(InvitedEntity, { where: { subjectId, withdrawnAtMs: IsNull() }, select }),
  ]);
  const found = { password: idsOf(passwords), invited: idsOf(invited) };
  return new Map(
    asked
      .filter(({ event, live }) => !subjects(event).some((id) => found[live].has(id)))
      .map(({ event, live }) => [event.id, live === 'password' ? 'no-password' : 'nobody-invited']),
  );
}

const idsOf = (rows: readonly { readonly subjectId: string }[]): ReadonlySet<string> =>
  new Set(rows.map(({ subjectId }) => subjectId));
