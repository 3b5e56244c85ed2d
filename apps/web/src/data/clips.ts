import useSWR from 'swr';
import type { RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

const clipsAt = (eventId: string): string => `/api/events/${eventId}/clips?limit=200`;

/** The latest first, those that are still being made among them. */
export const useClips = (eventId: string) => useSWR<Page<RecordingView>>(clipsAt(eventId), fetcher);

const ASK_EVERY_MS = 1000;

/** One that is being made, asked for until it is there; gone (404) where there was nothing to make it of. */
export const useClip = (id: string | null) =>
  useSWR<RecordingView, unknown>(id && `/api/recordings/${id}`, fetcher, { refreshInterval: ASK_EVERY_MS });

export const saveClip = (eventId: string, seconds: number): Promise<RecordingView> =>
  thenAskAgain(clipsAt(eventId), ask(`/api/events/${eventId}/clips`, { method: 'POST', body: { seconds } }));
