import { type EntityManager, In, IsNull, MoreThan, Not } from 'typeorm';
import { inheritWatchRules, isGuarded } from '@heliphon/core/access/watch-rules';
import { levelsAmong, saidOf } from '../inherited/levels-of.js';
import { HouseEntity } from '../platform/entities.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import { SeriesEntity } from '../tables/series.entity.js';

/** By then whatever was granted to everybody while it was live has run out (`liveGrantExpiryMs`). */
const LIVE_GRANTS_MS = 3 * 24 * 3_600_000;

/** Programmes that everybody could see live, and whose replay only some may see; those that are on now too. */
export async function guardedReplays(manager: EntityManager, nowMs: number): Promise<string[]> {
  const saying = { where: { watching: Not(IsNull()) }, select: { id: true, watching: true } } as const;
  const [houses, channels, series, ownEvents] = await Promise.all([
    manager.find(HouseEntity, saying),
    manager.find(ChannelEntity, saying),
    manager.find(SeriesEntity, saying),
    manager.count(EventEntity, {
      where: { watching: Not(IsNull()), hardStopAtMs: MoreThan(nowMs - LIVE_GRANTS_MS) },
    }),
  ]);
  // Most houses say nothing of who may watch.
  if (houses.length + channels.length + series.length + ownEvents === 0) return [];
  const events = await manager.find(EventEntity, {
    where: [{ state: In(['doors', 'air']) }, { state: 'kept', endAtMs: MoreThan(nowMs - LIVE_GRANTS_MS) }],
    select: { id: true, houseId: true, channelId: true, seriesId: true, watching: true, programmeId: true },
  });
  return events.flatMap((event) => {
    const rules = inheritWatchRules(
      saidOf(levelsAmong({ houses, channels, series }, event), 'watching'),
    ).value;
    return isGuarded(rules, 'replay') && !isGuarded(rules, 'live') ? [event.programmeId] : [];
  });
}
