import type { HouseScope } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import type { OutletEntity } from '../tables/account.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { SeriesDestinationEntity, SeriesEntity } from '../tables/series.entity.js';

const NAME_LENGTH = 60;
/** A week: those who follow an outlet see it in time, and a moved event is still rare. */
const USUAL_AHEAD_HOURS = 168;

/** @throws ProblemError 409 naming an event or a series that goes there */
export async function removePlace(scope: HouseScope, id: string): Promise<DestinationEntity> {
  const row = await scope.lock(DestinationEntity, { id }, 'destination');
  const link = await scope.findOne(EventDestinationEntity, { destinationId: id });
  const event = link && (await scope.findOne(EventEntity, { id: link.eventId }));
  const dates = await scope.findOne(SeriesDestinationEntity, { destinationId: id });
  const user = event ?? (dates && (await scope.findOne(SeriesEntity, { id: dates.seriesId })));
  if (user) throw new ProblemError(409, 'place-in-use', { title: user.title });
  await scope.remove(DestinationEntity, { id });
  return row;
}

/** @param platform - as people know it; outlets of several may be called alike */
export async function addOutletPlace(
  scope: HouseScope,
  { id, name }: OutletEntity,
  platform: string,
): Promise<void> {
  const at = ` at ${platform}`;
  const shown = name.slice(0, NAME_LENGTH - at.length) + at;
  await scope.add(DestinationEntity, {
    id: newId(),
    name: shown,
    outletId: id,
    postAheadHours: USUAL_AHEAD_HOURS,
  });
}

/** @throws ProblemError 409 naming an event or a series that goes there */
export async function removeOutletPlace(scope: HouseScope, outletId: string): Promise<void> {
  const place = await scope.findOne(DestinationEntity, { outletId });
  if (place) await removePlace(scope, place.id);
}
