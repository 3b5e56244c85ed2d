import useSWR from 'swr';
import type { BoxView, PairBox, EditBox } from '@heliphon/contracts/boxes';
import type { PointView } from '@heliphon/contracts/nodes';
import type { Page } from '@heliphon/contracts/problem';
import type { GuestLink, SendToken, AddGuestLink } from '@heliphon/contracts/send-tokens';
import type {
  SourceView,
  SourceHappening,
  SourceKey,
  AdviseSource,
  AddSource,
  EditSource,
} from '@heliphon/contracts/sources';
import { ask } from './api.js';
import { fetcher, thenRefresh } from './cache.js';

export const useSources = () => useSWR<Page<SourceView>>('/api/sources?limit=200', fetcher);

export const useSourceHistory = (id: string) =>
  useSWR<Page<SourceHappening>>(`/api/sources/${id}/history?limit=20`, fetcher);

/** What to type into an encoder; asked again, since an ingest point may go away. */
export const useSourceKey = (id: string | null) =>
  useSWR<SourceKey>(id && `/api/sources/${id}/key`, fetcher, { refreshInterval: 5000 });

/** The ingest points, and how they are. */
export const usePoints = () =>
  useSWR<{ items: readonly PointView[] }>('/api/points', fetcher, { refreshInterval: 5000 });

export const useBoxes = () =>
  useSWR<Page<BoxView>>('/api/boxes?limit=100', fetcher, { refreshInterval: 5000 });

/** Whom somebody let in at a source by a link. */
export const useGuestLinks = (sourceId: string) =>
  useSWR<Page<GuestLink>>(`/api/sources/${sourceId}/guests?limit=50`, fetcher, { refreshInterval: 5000 });

/** A way for this browser to send to a source, or to measure its upload. */
export const openSendToken = (sourceId: string): Promise<SendToken> =>
  ask(`/api/sources/${sourceId}/lines`, { method: 'POST' });

export const adviseSource = (source: SourceView, wish: AdviseSource): Promise<SourceView> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}/advice`, { method: 'PUT', body: wish }));

export const inviteGuest = (sourceId: string, wish: AddGuestLink): Promise<GuestLink> =>
  ask(`/api/sources/${sourceId}/guests`, { method: 'POST', body: wish });

export const withdrawGuest = (id: string): Promise<void> =>
  thenRefresh('sources', ask(`/api/guests/${id}`, { method: 'DELETE' }));

export const pairBox = (wish: PairBox): Promise<BoxView> =>
  thenRefresh('sources', ask('/api/boxes', { method: 'POST', body: wish }));

export const editBox = (box: BoxView, change: EditBox): Promise<BoxView> =>
  thenRefresh(
    'sources',
    ask(`/api/boxes/${box.id}`, { method: 'PATCH', version: box.version, body: change }),
  );

export const letBoxGo = (box: BoxView): Promise<void> =>
  thenRefresh('sources', ask(`/api/boxes/${box.id}`, { method: 'DELETE' }));

export const addSource = (wish: AddSource): Promise<SourceView> =>
  thenRefresh('sources', ask('/api/sources', { method: 'POST', body: wish }));

export const editSource = (source: SourceView, change: EditSource): Promise<SourceView> =>
  thenRefresh(
    'sources',
    ask(`/api/sources/${source.id}`, { method: 'PATCH', version: source.version, body: change }),
  );

export const renewKey = (source: SourceView): Promise<SourceView> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}/renew-key`, { method: 'POST' }));

export const deleteSource = (source: SourceView): Promise<void> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}`, { method: 'DELETE' }));
