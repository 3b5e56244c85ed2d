import useSWR, { mutate } from 'swr';
import type {
  EventView,
  EventGlance,
  RemediesView,
  ReadinessView,
  RehearsalView,
  DeskView,
  PlanEvent,
  EditEvent,
  ChooseEnd,
  ChooseFeed,
} from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { SignalReportView, SignalView } from '@heliphon/contracts/signal';
import type { CommandKind } from '@heliphon/core/schedule/event-life';
import { ask } from './api.js';
import { fetcher, everyPage, refreshTopic, thenRefresh } from './cache.js';
import { randomId } from './random-id.js';
import { serverNowMs } from './server-clock.js';

/** @param filter - `&name=value` of what is wanted of them. */
export const useEvents = (fromMs: number, toMs: number, filter = '') =>
  useSWR<Page<EventView>>(`/api/events?from=${fromMs}&to=${toMs}&limit=200${filter}`, fetcher, {
    keepPreviousData: true,
  });

/** So many of what a search found. */
export const useFoundEvents = (query: string, count: number) =>
  useSWR<Page<EventView>>(`/api/events?limit=${count}&${query}`, fetcher, { keepPreviousData: true });

/** All of them, however many pages they are. */
export const useGlance = (fromMs: number, toMs: number, filter: string) =>
  useSWR<readonly EventGlance[]>(
    `/api/events/glance?from=${fromMs}&to=${toMs}&limit=200${filter}`,
    everyPage<EventGlance>,
    { keepPreviousData: true },
  );

export const useRemedies = (id: string | null) =>
  useSWR<RemediesView>(id && `/api/events/${id}/remedies`, fetcher);

export const useEvent = (id: string) => useSWR<EventView>(`/api/events/${id}`, fetcher);

export const useReadiness = (id: string) =>
  useSWR<ReadinessView>(`/api/events/${id}/readiness`, fetcher, { refreshInterval: 3000 });

/** The latest rehearsals of an event; asked for again while one may be running. */
export const useRehearsals = (id: string) =>
  useSWR<Page<RehearsalView>>(`/api/events/${id}/rehearsals?limit=10`, fetcher);

export const useSignalReport = (eventId: string) =>
  useSWR<SignalReportView>(`/api/events/${eventId}/signal-report`, fetcher);

/** @param lastMs - only the last of it; `null` for all of it. */
export const useSignal = (eventId: string | null, lastMs: number | null, everyMs: number) =>
  useSWR<SignalView>(
    eventId &&
      `/api/events/${eventId}/signal?everyMs=${everyMs}${lastMs === null ? '' : `&lastMs=${lastMs}`}`,
    fetcher,
    { refreshInterval: 5000, keepPreviousData: true },
  );

export const useDeskAddress = (id: string | null) =>
  useSWR<DeskView>(id && `/api/events/${id}/desk`, fetcher);

/** An event as the public sees it, for instance for its replay. */
export const usePublicEvent = (slug: string | null) =>
  useSWR<PublicEvent>(slug && `/api/public/events/${slug}`, fetcher);

/** What is on, and comes. @param sourceId - with this source alone */
export function useUpcoming(sourceId = '') {
  const hourMs = 3_600_000;
  // By the hour, so that the question stays the same.
  const fromMs = Math.floor(serverNowMs() / hourMs) * hourMs;
  return useSWR<Page<EventView>>(`/api/events?from=${fromMs}&sourceId=${sourceId}&limit=50`, fetcher);
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

/** A private rehearsal, this minute. */
export const startRehearsal = (id: string): Promise<EventView> =>
  thenRefresh('events', ask(`/api/events/${id}/rehearsals`, { method: 'POST' }));

/** A rehearsal becomes an event of its own. */
export const keepRehearsal = (id: string): Promise<EventView> =>
  thenRefresh('events', ask(`/api/events/${id}/keep-rehearsal`, { method: 'POST' }));

/** A cancelled event takes place after all. */
export const reinstateEvent = (event: EventView): Promise<EventView> =>
  took(ask(`/api/events/${event.id}/reinstate`, { method: 'POST' }));

/** A quarter of an hour more, or no running over. */
export const chooseEnd = (event: EventView, wish: ChooseEnd['wish']): Promise<EventView> =>
  took(ask(`/api/events/${event.id}/planned-end`, { method: 'POST', body: { wish } }));

/** Passes over the rest of the opening film. */
export const skipFilm = (id: string): Promise<EventView> =>
  took(ask(`/api/events/${id}/skip-film`, { method: 'POST' }));

/** Which of its two sources feeds it whenever it can. */
export const chooseFeed = (id: string, from: ChooseFeed['from']): Promise<EventView> =>
  took(ask(`/api/events/${id}/feed`, { method: 'POST', body: { from } }));

/** Calls an event off; anyone who waits for it is told. */
export const cancelEvent = (event: EventView, notice: string): Promise<EventView> =>
  took(ask(`/api/events/${event.id}/cancel`, { method: 'POST', body: { fromState: event.state, notice } }));

/** Takes a place in, or lets it go, also while the event is on air. */
export const addPlace = (eventId: string, destinationId: string): Promise<EventView> =>
  took(ask(`/api/events/${eventId}/places/${destinationId}`, { method: 'PUT' }));
export const removePlace = (eventId: string, destinationId: string): Promise<EventView> =>
  took(ask(`/api/events/${eventId}/places/${destinationId}`, { method: 'DELETE' }));

/** Another size of the picture for one place; `null`: the original. */
export const choosePlaceSize = (
  eventId: string,
  destinationId: string,
  rendition: string | null,
): Promise<EventView> =>
  took(ask(`/api/events/${eventId}/places/${destinationId}/size`, { method: 'PUT', body: { rendition } }));

/** Leaves a place out of one event for now, or takes it in again. */
export const pausePlace = (eventId: string, destinationId: string, paused: boolean): Promise<EventView> =>
  took(ask(`/api/events/${eventId}/places/${destinationId}`, { method: 'POST', body: { paused } }));
