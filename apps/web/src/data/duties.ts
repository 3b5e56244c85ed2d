import useSWR, { mutate } from 'swr';
import type { OwnDuties, AnswerDuty } from '@heliphon/contracts/duties';
import { ask } from './api.js';
import { fetcher, refreshTopic, thenAskAgain } from './cache.js';

/** One's own duties, or those of the person to whom a letter's address belongs. */
export const useOwnDuties = (path: string) =>
  useSWR<OwnDuties, unknown>(path, fetcher, { shouldRetryOnError: false });

/** Says whether one can come; at one's own path, or at that of a letter. */
export async function answerDuty(path: string, wish: AnswerDuty): Promise<void> {
  await mutate(path, ask<OwnDuties>(path, { method: 'POST', body: wish }), { revalidate: false });
  refreshTopic('events');
}

export const renewDutiesAddress = (): Promise<OwnDuties> =>
  thenAskAgain('/api/own/duties', ask('/api/own/duties/address', { method: 'POST' }));
