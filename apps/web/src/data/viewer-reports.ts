import useSWR from 'swr';
import type { Page } from '@heliphon/contracts/problem';
import type { ViewerReportView } from '@heliphon/contracts/viewer-reports';
import { fetcher } from './cache.js';

const ASK_EVERY_MS = 10_000;

/** What viewers told, the newest first. @param isLive - asks again and again */
export const useViewerReports = (eventId: string, isLive: boolean) =>
  useSWR<Page<ViewerReportView>>(`/api/events/${eventId}/viewer-reports?limit=100`, fetcher, {
    refreshInterval: isLive ? ASK_EVERY_MS : 0,
  });
