import useSWR from 'swr';
import type {
  DestinationView,
  AddDestination,
  EditDestination,
  DestinationAddress,
} from '@heliphon/contracts/destinations';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenRefresh } from './cache.js';

export const useDestinations = () => useSWR<Page<DestinationView>>('/api/destinations?limit=200', fetcher);

export const addDestination = (wish: AddDestination): Promise<DestinationView> =>
  thenRefresh('destinations', ask('/api/destinations', { method: 'POST', body: wish }));

export const editDestination = (place: DestinationView, change: EditDestination): Promise<DestinationView> =>
  thenRefresh(
    'destinations',
    ask(`/api/destinations/${place.id}`, { method: 'PATCH', version: place.version, body: change }),
  );

export const deleteDestination = (place: DestinationView): Promise<void> =>
  thenRefresh('destinations', ask(`/api/destinations/${place.id}`, { method: 'DELETE' }));

export const showAddress = (place: DestinationView): Promise<DestinationAddress> =>
  ask(`/api/destinations/${place.id}/address`, { method: 'POST' });
