import { mutate } from 'swr';
import type { AddDestination, DestinationView, EditDestination } from '@heliphon/contracts/destinations';
import type { EditEvent, EventView, PlanEvent } from '@heliphon/contracts/events';
import type { SessionView, SignIn } from '@heliphon/contracts/house';
import type { EditSource, SourceView } from '@heliphon/contracts/sources';
import type { CommandKind } from '@heliphon/core/schedule/event-life';
import { ask } from './api.js';
import { refreshTopic } from './house.js';
import { randomId } from './random-id.js';

/** What the console asks the server to do. Each refreshes what it changed; the push does the same for others. */

export async function signIn(wish: SignIn): Promise<void> {
  await mutate('/api/session', ask<SessionView>('/api/session', { method: 'POST', body: wish }), {
    revalidate: false,
  });
}

export async function signOut(): Promise<void> {
  await ask('/api/session', { method: 'DELETE' });
  location.assign('/');
}

async function took(event: Promise<EventView>): Promise<EventView> {
  const saved = await event;
  await mutate(`/api/events/${saved.id}`, saved, { revalidate: false });
  refreshTopic('events');
  return saved;
}

export const planEvent = (wish: PlanEvent): Promise<EventView> =>
  took(ask('/api/events', { method: 'POST', body: wish }));

export const editEvent = (id: string, version: number, change: EditEvent): Promise<EventView> =>
  took(ask(`/api/events/${id}`, { method: 'PATCH', version, body: change }));

export function setPoster(id: string, file: File): Promise<EventView> {
  const form = new FormData();
  form.set('poster', file);
  return took(ask(`/api/events/${id}/poster`, { method: 'POST', form }));
}

export const removePoster = (id: string): Promise<EventView> =>
  took(ask(`/api/events/${id}/poster`, { method: 'DELETE' }));

export async function deleteEvent(id: string): Promise<void> {
  await ask(`/api/events/${id}`, { method: 'DELETE' });
  refreshTopic('events');
}

/** Moves an event by hand. The id makes a repeat harmless. */
export const moveEvent = (event: EventView, kind: CommandKind): Promise<EventView> =>
  took(
    ask(`/api/events/${event.id}/${kind}`, {
      method: 'POST',
      body: { commandId: randomId(), fromState: event.state },
    }),
  );

async function thenRefresh<T>(topic: 'sources' | 'destinations', answer: Promise<T>): Promise<T> {
  const value = await answer;
  refreshTopic(topic);
  return value;
}

export const addSource = (wish: { name: string; hasPassword: boolean }): Promise<SourceView> =>
  thenRefresh('sources', ask('/api/sources', { method: 'POST', body: wish }));
export const editSource = (source: SourceView, change: EditSource): Promise<SourceView> =>
  thenRefresh(
    'sources',
    ask(`/api/sources/${source.id}`, { method: 'PATCH', version: source.version, body: change }),
  );
export const renewKey = (source: SourceView): Promise<SourceView> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}/renew-key`, { method: 'POST' }));
export const deleteSource = (source: SourceView): Promise<void> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}`, { method: 'DELETE' }));

export const addDestination = (wish: AddDestination): Promise<DestinationView> =>
  thenRefresh('destinations', ask('/api/destinations', { method: 'POST', body: wish }));
export const editDestination = (place: DestinationView, change: EditDestination): Promise<DestinationView> =>
  thenRefresh(
    'destinations',
    ask(`/api/destinations/${place.id}`, { method: 'PATCH', version: place.version, body: change }),
  );
export const deleteDestination = (place: DestinationView): Promise<void> =>
  thenRefresh('destinations', ask(`/api/destinations/${place.id}`, { method: 'DELETE' }));
