import useSWR from 'swr';
import type { AddPlaceSet, EditPlaceSet, PlaceSetView } from '@heliphon/contracts/place-sets';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenRefresh } from './cache.js';

export const usePlaceSets = () => useSWR<Page<PlaceSetView>>('/api/place-sets?limit=100', fetcher);

export const addPlaceSet = (wish: AddPlaceSet): Promise<PlaceSetView> =>
  thenRefresh('destinations', ask('/api/place-sets', { method: 'POST', body: wish }));

export const editPlaceSet = ({ id, version }: PlaceSetView, change: EditPlaceSet): Promise<PlaceSetView> =>
  thenRefresh('destinations', ask(`/api/place-sets/${id}`, { method: 'PATCH', version, body: change }));

export const deletePlaceSet = ({ id }: PlaceSetView): Promise<void> =>
  thenRefresh('destinations', ask(`/api/place-sets/${id}`, { method: 'DELETE' }));
