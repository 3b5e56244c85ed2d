import useSWR from 'swr';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, refreshAll } from './cache.js';

export const useActivity = (query: string) =>
  useSWR<Page<ActivityEntry>>(`/api/happenings?${query}`, fetcher);

/** Takes back what this person last did to something. */
export async function undoLast(subjectId: string): Promise<void> {
  await ask('/api/happenings/undo-last', { method: 'POST', body: { subjectId } });
  refreshAll();
}

export async function undoHappening(id: string): Promise<void> {
  await ask(`/api/happenings/${id}/undo`, { method: 'POST' });
  refreshAll();
}
