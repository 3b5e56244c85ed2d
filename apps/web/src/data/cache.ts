import { mutate } from 'swr';
import type { Page } from '@heliphon/contracts/problem';
import type { PushTopic } from '@heliphon/contracts/push';
import { ask } from './api.js';

/** Every key is the path that is asked for. */
export const fetcher = <T>(path: string): Promise<T> => ask<T>(path);

export async function everyPage<T>(path: string): Promise<readonly T[]> {
  const found: T[] = [];
  for (let after: string | null = ''; after !== null;) {
    const page: Page<T> = await ask(after ? `${path}&after=${encodeURIComponent(after)}` : path);
    found.push(...page.items);
    after = page.next;
  }
  return found;
}

/** What has to be asked for again when a hint names its topic. */
const PATHS: Readonly<Record<PushTopic, readonly string[]>> = {
  events: ['/api/events', '/api/recordings', '/api/series', '/api/happenings?subjectId=', '/api/own/duties'],
  sources: ['/api/sources', '/api/boxes'],
  destinations: ['/api/destinations', '/api/place-sets', '/api/accounts'],
  recordings: ['/api/recordings', '/api/events'],
  channels: ['/api/channels', '/api/events', '/api/series'],
  files: ['/api/files'],
};

export function refreshTopic(topic: PushTopic): void {
  void mutate((key) => typeof key === 'string' && PATHS[topic].some((path) => key.startsWith(path)));
}

/** After a break in the push everything is asked for once. */
export function refreshAll(): void {
  void mutate((key) => typeof key === 'string' && key.startsWith('/api/') && key !== '/api/session');
}

/** An answer, once the lists of a topic have been asked for again. */
export async function thenRefresh<T>(topic: PushTopic, answer: Promise<T>): Promise<T> {
  const value = await answer;
  refreshTopic(topic);
  return value;
}

/** An answer, once what a path shows has been asked for again. */
export async function thenAskAgain<T>(path: string, answer: Promise<T>): Promise<T> {
  const value = await answer;
  await mutate(path);
  return value;
}
