import {
  haveOf,
  subjectOf,
  type ViewersHad,
  type ViewersHave,
  viewersHad,
} from '@heliphon/core/audience/viewers-have';
import type { HouseScope } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import type { EventEntity } from '../tables/event.entity.js';
import { ViewersHaveEntity } from '../tables/viewers-have.entity.js';

/** An encoder that comes and goes all day: the last of its changes are enough to see that. */
const MOST_CHANGES = 2000;

/** Writes down what viewers of an event have from an instant on. */
export async function rememberHave(
  scope: HouseScope,
  eventId: string,
  { have, atMs }: { readonly have: ViewersHave; readonly atMs: number },
): Promise<void> {
  const { kind } = have;
  await scope.add(ViewersHaveEntity, { id: newId(), eventId, atMs, kind, subjectId: subjectOf(have) });
}

/**
 * What viewers of an event have had, from its doors to its end, or until now. Empty where nobody was told: its doors
 * have not opened, or it is older than this table.
 */
export async function viewersHadOf(
  scope: HouseScope,
  { id, endAtMs }: EventEntity,
  nowMs: number,
): Promise<ViewersHad[]> {
  const rows = await scope.find(ViewersHaveEntity, {
    where: { eventId: id },
    order: { atMs: 'DESC', id: 'DESC' },
    take: MOST_CHANGES,
  });
  const changes = rows
    .toReversed()
    .map(({ kind, subjectId, atMs }) => ({ ...haveOf(kind, subjectId), fromMs: atMs }));
  const [first] = changes;
  return first ? viewersHad(changes, first.fromMs, endAtMs ?? nowMs) : [];
}
