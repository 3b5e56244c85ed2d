import type { PlatformEnding } from '@heliphon/core/connectors/platform-endings';
import type { WatchedAt } from '@heliphon/contracts/signal';
import type { HouseScope } from '../platform/database.js';
import { HappeningEntity } from '../platform/entities.js';
import { EventViewersEntity } from '../tables/event-viewers.entity.js';

const KINDS = ['page', 'site', 'elsewhere', 'place'] as const;
const MOST_ENDINGS = 100;

/** Where an event was watched, the most first. @param onAirMs - how long it was on air */
export async function watchedAt(scope: HouseScope, eventId: string, onAirMs: number): Promise<WatchedAt[]> {
  const rows = await scope.find(EventViewersEntity, { where: { eventId } });
  return rows
    .map(({ place, most, viewerMs }) => {
      const [kind, name = ''] = place.split(' ');
      return {
        kind: KINDS.find((known) => known === kind) ?? 'elsewhere',
        name,
        most,
        average: onAirMs > 0 ? viewerMs / onAirMs : 0,
      };
    })
    .toSorted((a, b) => b.average - a.average);
}

/** Postings that their platforms ended while the event went on, in order of time. */
export async function platformEndings(scope: HouseScope, eventId: string): Promise<PlatformEnding[]> {
  const rows = await scope.find(HappeningEntity, {
    where: { subjectKind: 'event', subjectId: eventId, kind: 'posting-ended' },
    order: { id: 'ASC' },
    take: MOST_ENDINGS,
  });
  return rows.map(({ after, atMs }) => ({ ...(after as Omit<PlatformEnding, 'atMs'>), atMs }));
}
