import useSWR, { mutate } from 'swr';
import type { SessionView, SignIn } from '@heliphon/contracts/house';
import type { Capability } from '@heliphon/core/access/capabilities';
import { ask } from './api.js';
import { fetcher } from './cache.js';

export const useSession = () => useSWR<SessionView>('/api/session', fetcher, { shouldRetryOnError: false });

/** True when the person signed in may do this. */
export function useCan(capability: Capability): boolean {
  return useSession().data?.capabilities.includes(capability) ?? false;
}

/** The house's time zone, in which the console speaks. */
export const useZone = (): string => useSession().data?.house.zone ?? 'UTC';

/** Asks again who is signed in, and as what. */
export const refreshSession = (): void => void mutate('/api/session');

export async function signIn(wish: SignIn): Promise<void> {
  await mutate('/api/session', ask<SessionView>('/api/session', { method: 'POST', body: wish }), {
    revalidate: false,
  });
}

export async function signOut(): Promise<void> {
  await ask('/api/session', { method: 'DELETE' });
  location.assign('/');
}

export async function switchHouse(houseId: string): Promise<void> {
  await ask('/api/session/house', { method: 'POST', body: { houseId } });
  location.assign('/');
}
