import useSWR from 'swr';
import type { ChatPerson, ChatPage } from '@heliphon/contracts/chat';
import type { Page } from '@heliphon/contracts/problem';
import { fetcher } from './cache.js';

export const useChatPeople = (eventId: string) =>
  useSWR<Page<ChatPerson>>(`/api/events/${eventId}/chat/people?limit=200`, fetcher, {
    refreshInterval: 5000,
  });

export const useSaidBy = (eventId: string, personId: string) =>
  useSWR<ChatPage>(`/api/events/${eventId}/chat/people/${personId}`, fetcher);
