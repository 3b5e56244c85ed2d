import { In } from 'typeorm';
import { DestinationEntity } from '../tables/destination.entity.js';
import type { HouseScope } from '../platform/database.js';
import { refusedField } from '../platform/problems.js';
import { EventDestinationEntity } from '../tables/event.entity.js';

/** Where an event goes to. */
export async function placesOf(scope: HouseScope, eventId: string): Promise<string[]> {
  const links = await scope.find(EventDestinationEntity, { where: { eventId } });
  return links.map(({ destinationId }) => destinationId);
}

/** Lets an event go to these places and no others; what was chosen for each stays so. @throws ProblemError 422 */
export async function setDestinations(
  scope: HouseScope,
  eventId: string,
  wanted: readonly string[],
): Promise<void> {
  await checkPlaces(scope, wanted);
  const before = await scope.find(EventDestinationEntity, { where: { eventId } });
  const known = new Map(before.map((link) => [link.destinationId, link]));
  await scope.remove(EventDestinationEntity, { eventId });
  for (const destinationId of wanted)
    await scope.add(EventDestinationEntity, {
      eventId,
      destinationId,
      ...choicesOf(known.get(destinationId)),
    });
}

/** What was chosen at the desk for a place. */
const choicesOf = (
  link: EventDestinationEntity | undefined,
): Pick<EventDestinationEntity, 'paused' | 'rendition'> => ({
  paused: link?.paused ?? false,
  rendition: link?.rendition ?? null,
});

/** @throws ProblemError 422 where one of them is none of the house's. */
export async function checkPlaces(scope: HouseScope, wanted: readonly string[]): Promise<void> {
  const found =
    wanted.length > 0 ? await scope.find(DestinationEntity, { where: { id: In([...wanted]) } }) : [];
  if (found.length !== wanted.length) throw refusedField('destinationIds', 'unknown-place');
}
