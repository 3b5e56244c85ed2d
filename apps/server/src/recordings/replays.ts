import { In, IsNull, Raw } from 'typeorm';
import type { PublicReplay } from '@heliphon/contracts/channels';
import type { Page } from '@heliphon/contracts/problem';
import { EventEntity } from '../tables/event.entity.js';
import { posterUrl } from '../events/event-view.js';
import { type HouseScope, type PageWish } from '../platform/database.js';
import { RecordingEntity } from '../tables/recording.entity.js';

/** What can be watched again of a channel, latest first. A page is the shorter for what is not shown. */
export async function replaysOf(
  scope: HouseScope,
  channelId: string,
  wish: PageWish,
  isShown: (event: EventEntity) => boolean,
): Promise<Page<PublicReplay>> {
  const where = {
    // A clip is for those who are given its address.
    kind: 'whole' as const,
    binnedAtMs: IsNull(),
    eventId: Raw(
      (id) =>
        `${id} IN (SELECT id FROM events WHERE house_id = :houseId AND channel_id = :channelId
          AND state = 'kept' AND rehearsal_of IS NULL)`,
      { houseId: scope.ctx.houseId, channelId },
    ),
  };
  const { rows, next } = await scope.page(RecordingEntity, { by: 'airAtMs', descending: true, where }, wish);
  const events = await scope.find(EventEntity, { where: { id: In(rows.map(({ eventId }) => eventId)) } });
  const items = rows.flatMap((row) => {
    const event = events.find(({ id }) => id === row.eventId)!;
    if (!isShown(event)) return [];
    const replay = {
      slug: event.slug,
      title: row.title ?? event.title,
      airAtMs: row.airAtMs,
      durationMs: row.durationMs,
      posterUrl: posterUrl(row.posterId ?? event.posterId),
    };
    return [replay];
  });
  return { items, next };
}
