import { In } from 'typeorm';
import type { HouseScope } from '../platform/database.js';
import { AccountEntity, OutletEntity } from '../tables/account.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';

/** A place that is an outlet, with all that is known of it. */
export interface OutletPlace {
  readonly place: DestinationEntity;
  readonly outlet: OutletEntity;
  readonly account: AccountEntity;
}

/** The outlets among these places, by name. */
export async function outletPlaces(
  scope: HouseScope,
  destinationIds: readonly string[],
): Promise<OutletPlace[]> {
  if (destinationIds.length === 0) return [];
  const places = await scope.find(DestinationEntity, {
    where: { id: In([...destinationIds]) },
    order: { name: 'ASC', id: 'ASC' },
  });
  const outletIds = places.flatMap(({ outletId }) => outletId ?? []);
  const outlets = await scope.find(OutletEntity, { where: { id: In(outletIds) } });
  const accounts = await scope.find(AccountEntity, {
    where: { id: In(outlets.map(({ accountId }) => accountId)) },
  });
  return places.flatMap((place) => {
    const outlet = outlets.find(({ id }) => id === place.outletId);
    const account = accounts.find(({ id }) => id === outlet?.accountId);
    return outlet && account ? [{ place, outlet, account }] : [];
  });
}
