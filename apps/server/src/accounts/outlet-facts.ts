import { In } from 'typeorm';
import { postingText, wordsAt } from '@heliphon/core/connectors/posting-words';
import type { ReadinessOutlet } from '@heliphon/core/readiness/readiness';
import type { Connectors } from '../connectors/connectors.js';
import type { HouseScope } from '../platform/database.js';
import type { DestinationEntity } from '../tables/destination.entity.js';
import type { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { PostingWordsEntity } from '../tables/posting-words.entity.js';
import { outletPlaces } from './outlet-places.js';

/** How the outlets stand that events are posted at, by the events' ids. */
export async function outletFacts(
  scope: HouseScope,
  connectors: Connectors,
  events: readonly EventEntity[],
  links: readonly Pick<EventDestinationEntity, 'eventId' | 'destinationId'>[],
  places: readonly DestinationEntity[],
): Promise<ReadonlyMap<string, readonly ReadinessOutlet[]>> {
  const outlets = await outletPlaces(
    scope,
    places.flatMap(({ id, outletId }) => (outletId === null ? [] : [id])),
  );
  if (outlets.length === 0) return new Map();
  const seriesIds = [...new Set(events.flatMap(({ seriesId }) => seriesId ?? []))];
  const words = [
    ...(await scope.find(PostingWordsEntity, { where: { eventId: In(events.map(({ id }) => id)) } })),
    ...(await scope.find(PostingWordsEntity, { where: { seriesId: In(seriesIds) } })),
  ];
  const factsOf = (event: EventEntity, placeId: string): ReadinessOutlet | null => {
    const found = outlets.find(({ place }) => place.id === placeId);
    if (!found) return null;
    const { place, outlet, account } = found;
    return {
      name: place.name,
      accountId: account.id,
      accountName: account.name,
      platform: account.platform,
      platformName: connectors.nameOf(account.platform),
      hasEnded: account.endedAtMs !== null,
      consentEndsAtMs: account.consentEndsAtMs,
      isThere: outlet.isThere,
      hasLetIn: outlet.hasLetIn,
      audience: postingText(event, wordsAt(words, event, placeId), account.audience ?? 'everyone').audience,
    };
  };
  return new Map(
    events.map((event) => [
      event.id,
      links
        .filter(({ eventId }) => eventId === event.id)
        .flatMap(({ destinationId }) => factsOf(event, destinationId) ?? []),
    ]),
  );
}
