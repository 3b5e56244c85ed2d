import { In, IsNull, MoreThan, Not } from 'typeorm';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { HouseScope } from '../platform/database.js';
import { EventEntity } from '../tables/event.entity.js';
import { listedOnly } from './listed-only.js';

const MOST = 4;
/** Some of them may be listed nowhere. */
const LOOKED_AT = 20;

/** What comes after an event in its series, else in its channel: what anybody may come across. */
export async function nextOf(
  scope: HouseScope,
  { id, seriesId, channelId }: EventEntity,
  nowMs: number,
): Promise<PublicEvent['next']> {
  const among = seriesId ? { seriesId } : channelId ? { channelId } : null;
  if (!among) return [];
  const coming = await scope.find(EventEntity, {
    where: {
      ...among,
      id: Not(id),
      isDraft: false,
      rehearsalOf: IsNull(),
      state: In(['planned', 'doors', 'air']),
      stopsAtMs: MoreThan(nowMs),
    },
    order: { startsAtMs: 'ASC' },
    take: LOOKED_AT,
  });
  const isListed = await listedOnly(scope);
  return coming
    .filter((event) => isListed(event, 'live'))
    .slice(0, MOST)
    .map(({ slug, title, startsAtMs }) => ({ slug, title, startsAtMs }));
}
