import useSWR from 'swr';
import type { PostingCommentView } from '@heliphon/contracts/postings';
import type { Page } from '@heliphon/contracts/problem';
import { fetcher } from './cache.js';

/** What was said last under the postings of an event; platforms have their own pace. @param isOn - it is being said */
export const useComments = (eventId: string, isOn: boolean) =>
  useSWR<Page<PostingCommentView>>(`/api/events/${eventId}/comments?limit=50`, fetcher, {
    refreshInterval: isOn ? 4000 : 0,
  });
