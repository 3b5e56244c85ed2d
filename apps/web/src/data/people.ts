import useSWR from 'swr';
import type { PersonView, InvitationView, InvitePerson } from '@heliphon/contracts/people';
import type { Page } from '@heliphon/contracts/problem';
import type { Role } from '@heliphon/core/access/capabilities';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

export const usePeople = () => useSWR<Page<PersonView>>('/api/people', fetcher);

export const useInvitations = (isAllowed: boolean) =>
  useSWR<Page<InvitationView>>(isAllowed ? '/api/invitations' : null, fetcher);

export const invitePerson = (wish: InvitePerson): Promise<void> =>
  thenAskAgain('/api/invitations', ask('/api/invitations', { method: 'POST', body: wish }));

export const withdrawInvitation = (id: string): Promise<void> =>
  thenAskAgain('/api/invitations', ask(`/api/invitations/${id}`, { method: 'DELETE' }));

export const setRoles = (id: string, roles: readonly Role[]): Promise<PersonView> =>
  thenAskAgain('/api/people', ask(`/api/people/${id}`, { method: 'PATCH', body: { roles } }));

export const removePerson = (id: string): Promise<void> =>
  thenAskAgain('/api/people', ask(`/api/people/${id}`, { method: 'DELETE' }));
