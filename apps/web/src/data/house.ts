import useSWR from 'swr';
import { type FirstServiceView, FIRST_STEPS } from '@heliphon/contracts/first-service';
import type { HouseView, EditHouse, DeleteHouse } from '@heliphon/contracts/house';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';
import { useCan } from './session.js';

const FIRST_SERVICE_EVERY_MS = 5000;

/** Asked now and then until all is done: what is done elsewhere is found out here. Only for those who can do all of it. */
export const useFirstService = () =>
  useSWR<FirstServiceView>(useCan('people.edit') && '/api/house/first-service', fetcher, {
    refreshInterval: (view) => (view?.done.length === FIRST_STEPS.length ? 0 : FIRST_SERVICE_EVERY_MS),
  });

export const useHouse = () => useSWR<HouseView>('/api/house', fetcher);

export const editHouse = (house: HouseView, change: EditHouse): Promise<HouseView> =>
  thenAskAgain('/api/house', ask('/api/house', { method: 'PATCH', version: house.version, body: change }));

export const deleteHouse = (wish: DeleteHouse): Promise<void> =>
  ask('/api/house', { method: 'DELETE', body: wish });
