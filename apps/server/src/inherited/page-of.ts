import { IsNull, MoreThan } from 'typeorm';
import type { Level } from '@heliphon/core/inherited';
import type { HouseScope } from '../platform/database.js';
import { EventEntity } from '../tables/event.entity.js';
import type { LevelRow } from './said-document.js';

/**
 * A page of what stands at a level: that of what is on or comes next; where nothing does, of what was last.
 * @returns its slug; `null` for none
 */
export async function pageOf(
  scope: HouseScope,
  row: LevelRow,
  level: Level,
  nowMs: number,
): Promise<string | null> {
  if (row instanceof EventEntity) return row.isDraft ? null : row.slug;
  const among = level === 'house' ? {} : { [level === 'channel' ? 'channelId' : 'seriesId']: row.id };
  const of = { ...among, isDraft: false, rehearsalOf: IsNull() };
  const one = async (order: 'ASC' | 'DESC', where: object): Promise<EventEntity | undefined> =>
    (await scope.find(EventEntity, { where: { ...of, ...where }, order: { startsAtMs: order }, take: 1 }))[0];
  const event = (await one('ASC', { stopsAtMs: MoreThan(nowMs) })) ?? (await one('DESC', {}));
  return event?.slug ?? null;
}
