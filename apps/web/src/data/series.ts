import useSWR from 'swr';
import type { Page } from '@heliphon/contracts/problem';
import type {
  SeriesView,
  PlanSeries,
  EditSeries,
  PreviewSeries,
  SeriesPreview,
  SpreadChange,
} from '@heliphon/contracts/series';
import { ask } from './api.js';
import { fetcher, thenRefresh } from './cache.js';

export const useSeriesList = () => useSWR<Page<SeriesView>>('/api/series?limit=200', fetcher);

export const useSeries = (id: string | null) => useSWR<SeriesView>(id && `/api/series/${id}`, fetcher);

export const planSeries = (wish: PlanSeries): Promise<SeriesView> =>
  thenRefresh('events', ask('/api/series', { method: 'POST', body: wish }));

export const editSeries = (series: SeriesView, change: EditSeries): Promise<SeriesView> =>
  thenRefresh(
    'events',
    ask(`/api/series/${series.id}`, { method: 'PATCH', version: series.version, body: change }),
  );

export const previewSeries = (wish: PreviewSeries): Promise<SeriesPreview> =>
  ask('/api/series/preview', { method: 'POST', body: wish });

export const skipDate = (id: string, date: string, isSkipped: boolean): Promise<SeriesView> =>
  thenRefresh('events', ask(`/api/series/${id}/skips/${date}`, { method: isSkipped ? 'PUT' : 'DELETE' }));

/** Brings what one date changed by itself to the later ones, or to all. */
export const spreadChange = (eventId: string, to: SpreadChange['to']): Promise<SeriesView> =>
  thenRefresh('events', ask(`/api/events/${eventId}/spread`, { method: 'POST', body: { to } }));
