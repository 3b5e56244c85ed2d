import useSWR from 'swr';
import type { PostingWords } from '@heliphon/core/connectors/posting-words';
import type { OutletWordsView, PostingView } from '@heliphon/contracts/postings';
import type { TestSendView } from '@heliphon/contracts/test-sends';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

type Of = 'events' | 'series';
const path = (of: Of, id: string): string => `/api/${of}/${id}/postings`;

/** Platforms have their own pace: it is looked at again and again. */
export const usePostings = (eventId: string) =>
  useSWR<{ readonly items: readonly PostingView[] }>(path('events', eventId), fetcher, {
    refreshInterval: 3000,
  });

export const useSeriesOutlets = (seriesId: string) =>
  useSWR<{ readonly items: readonly OutletWordsView[] }>(path('series', seriesId), fetcher);

/** What is said at one place; `null` is what is said everywhere. */
export const savePostingWords = (
  of: Of,
  id: string,
  destinationId: string,
  words: PostingWords,
): Promise<void> =>
  thenAskAgain(path(of, id), ask(`${path(of, id)}/${destinationId}/words`, { method: 'PUT', body: words }));

/** A new posting where one has ended while its event goes on. */
export const goOnThere = (eventId: string, destinationId: string): Promise<void> =>
  thenAskAgain(
    path('events', eventId),
    ask(`${path('events', eventId)}/${destinationId}/go-on`, { method: 'POST' }),
  );

const testsOf = (rehearsalId: string): string => `/api/events/${rehearsalId}/test-sends`;

export const useTestSends = (rehearsalId: string) =>
  useSWR<{ readonly items: readonly TestSendView[] }>(testsOf(rehearsalId), fetcher, {
    refreshInterval: 2000,
  });

export const beginTestSend = (rehearsalId: string, destinationId: string): Promise<void> =>
  thenAskAgain(testsOf(rehearsalId), ask(testsOf(rehearsalId), { method: 'POST', body: { destinationId } }));
