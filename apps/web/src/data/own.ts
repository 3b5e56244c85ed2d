import useSWR from 'swr';
import type {
  SessionEntry,
  TokenEntry,
  OwnLetters,
  MakeToken,
  MadeToken,
  SecondFactorOffer,
} from '@heliphon/contracts/people';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

export const useOwnSessions = () => useSWR<Page<SessionEntry>>('/api/own/sessions', fetcher);

export const useOwnTokens = () => useSWR<Page<TokenEntry>>('/api/own/tokens', fetcher);

export const useOwnLetters = () => useSWR<OwnLetters>('/api/own/letters', fetcher);

export const endSession = (id: string): Promise<void> =>
  thenAskAgain('/api/own/sessions', ask(`/api/own/sessions/${id}`, { method: 'DELETE' }));

export const makeToken = (wish: MakeToken): Promise<MadeToken> =>
  thenAskAgain('/api/own/tokens', ask('/api/own/tokens', { method: 'POST', body: wish }));

export const endToken = (id: string): Promise<void> =>
  thenAskAgain('/api/own/tokens', ask(`/api/own/tokens/${id}`, { method: 'DELETE' }));

export const chooseLetters = (wish: OwnLetters): Promise<OwnLetters> =>
  thenAskAgain('/api/own/letters', ask('/api/own/letters', { method: 'PATCH', body: wish }));

export const offerSecondFactor = (): Promise<SecondFactorOffer> =>
  ask('/api/own/second-factor', { method: 'POST' });

export const confirmSecondFactor = (code: string): Promise<{ recoveryCodes: string[] }> =>
  thenAskAgain('/api/session', ask('/api/own/second-factor/confirm', { method: 'POST', body: { code } }));

export const removeSecondFactor = (code: string): Promise<void> =>
  thenAskAgain('/api/session', ask('/api/own/second-factor/remove', { method: 'POST', body: { code } }));
