import useSWR from 'swr';
import type {
  AccountUses,
  AccountView,
  ConsentAddress,
  Unlink,
  OutletView,
  PlatformView,
} from '@heliphon/contracts/accounts';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, refreshTopic, thenAskAgain } from './cache.js';

const ACCOUNTS = '/api/accounts?limit=50';

export const useAccounts = () => useSWR<Page<AccountView>>(ACCOUNTS, fetcher);

export const usePlatforms = () =>
  useSWR<{ readonly items: readonly PlatformView[] }>('/api/accounts/platforms', fetcher);

/** @param named - a part of their names; empty for all. @param after - the cursor of the page before */
export const useOutlets = (accountId: string, named: string, after: string | null) =>
  useSWR<Page<OutletView>>(
    `/api/accounts/${accountId}/outlets?limit=20&named=${encodeURIComponent(named)}${after ? `&after=${after}` : ''}`,
    fetcher,
    { keepPreviousData: true },
  );

/** @param accountId - one that is linked again */
export const beginLink = (platform: string, accountId?: string): Promise<ConsentAddress> =>
  ask('/api/accounts/consents', { method: 'POST', body: { platform, ...(accountId ? { accountId } : {}) } });

export const finishLink = (platform: string, answer: string): Promise<{ readonly id: string }> =>
  thenAskAgain(ACCOUNTS, ask('/api/accounts', { method: 'POST', body: { platform, answer } }));

/** After another window has linked one. */
export const askForAccounts = (): Promise<void> => thenAskAgain(ACCOUNTS, Promise.resolve());

/** A chosen outlet is a place. */
export async function chooseOutlet(
  accountId: string,
  outletId: string,
  isChosen: boolean,
): Promise<OutletView> {
  const path = `/api/accounts/${accountId}/outlets/${outletId}`;
  const outlet = await thenAskAgain(ACCOUNTS, ask<OutletView>(path, { method: 'PATCH', body: { isChosen } }));
  refreshTopic('destinations');
  return outlet;
}

/** Asks the platform what is there now; also where it says no, the account may have changed. */
export const lookAgain = (accountId: string): Promise<AccountView> =>
  ask<AccountView>(`/api/accounts/${accountId}/look`, { method: 'POST' }).finally(askForAccounts);

export const useAccountUses = (accountId: string) =>
  useSWR<AccountUses>(`/api/accounts/${accountId}/uses`, fetcher);

/** Also where it is refused half-way, events may no longer go there. */
export const unlinkAccount = (accountId: string, wish: Unlink): Promise<void> =>
  ask<void>(`/api/accounts/${accountId}/unlink`, { method: 'POST', body: wish }).finally(async () => {
    await askForAccounts();
    refreshTopic('destinations');
  });
