import useSWR, { mutate } from 'swr';
import type { OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { Level } from '@heliphon/core/inherited';
import type { Page } from '@heliphon/contracts/problem';
import type {
  InvitedView,
  InviteOutcome,
  InviteWish,
  SeenAs,
  SeenAsView,
  WatchingView,
  WatchPassword,
} from '@heliphon/contracts/watching';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

export const watchingPath = (level: Level, id: string): string => `/api/watching/${level}/${id}`;

export const useWatching = (path: string | null) => useSWR<WatchingView>(path, fetcher);

/** Where it fails, what stands there now is asked for again: somebody may have been quicker. */
export async function setWatching(path: string, version: number, own: OwnWatchRules): Promise<void> {
  try {
    const kept = await ask<WatchingView>(path, { method: 'PUT', version, body: { own } });
    await mutate(path, kept, { revalidate: false });
  } catch (error) {
    await mutate(path);
    throw error;
  }
}

export const readWatchPassword = async (path: string): Promise<string> =>
  (await ask<WatchPassword>(`${path}/password`)).password;

export const setWatchPassword = (path: string, password: string): Promise<void> =>
  thenAskAgain(path, ask(`${path}/password`, { method: 'PUT', body: { password } }));

export const removeWatchPassword = (path: string): Promise<void> =>
  thenAskAgain(path, ask(`${path}/password`, { method: 'DELETE' }));

const invitedPath = (path: string, after: string | null): string =>
  `${path}/invited?limit=50${after ? `&after=${encodeURIComponent(after)}` : ''}`;

export const useInvited = (path: string, after: string | null) =>
  useSWR<Page<InvitedView>>(invitedPath(path, after), fetcher);

export async function invitePeopleToWatch(path: string, wish: InviteWish): Promise<InviteOutcome> {
  const outcome = await ask<InviteOutcome>(`${path}/invited`, { method: 'POST', body: wish });
  await thenAskAgain(invitedPath(path, null), thenAskAgain(path, Promise.resolve()));
  return outcome;
}

export const linkOfInvited = async (path: string, id: string): Promise<string> =>
  (await ask<{ url: string }>(`${path}/invited/${id}/link`)).url;

export const withdrawInvited = (path: string, id: string, after: string | null): Promise<void> =>
  thenAskAgain(
    path,
    thenAskAgain(invitedPath(path, after), ask(`${path}/invited/${id}`, { method: 'DELETE' })),
  );

export const seeAs = (path: string, who: SeenAs): Promise<SeenAsView> =>
  ask(`${path}/seen-as`, { method: 'POST', body: who });
