import useSWR, { mutate } from 'swr';
import { type Capability } from '@heliphon/core/access/capabilities';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import type { BoxView } from '@heliphon/contracts/boxes';
import type { OwnCalendar } from '@heliphon/contracts/calendars';
import type { ChannelView } from '@heliphon/contracts/channels';
import type { ChatPage, ChatPerson } from '@heliphon/contracts/chat';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { OwnDuties } from '@heliphon/contracts/duties';
import type {
  DeskView,
  EventGlance,
  EventView,
  ReadinessView,
  RemediesView,
  RehearsalView,
} from '@heliphon/contracts/events';
import type { FileView } from '@heliphon/contracts/files';
import type { HouseView, RecordingFiles, RecordingView, SessionView } from '@heliphon/contracts/house';
import type {
  InvitationView,
  OwnLetters,
  PersonView,
  SessionEntry,
  TokenEntry,
} from '@heliphon/contracts/people';
import type { GuestLink } from '@heliphon/contracts/lines';
import type { PointView } from '@heliphon/contracts/nodes';
import type { OrderView } from '@heliphon/contracts/order';
import type { Page } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { PushTopic } from '@heliphon/contracts/push';
import type { SeriesView } from '@heliphon/contracts/series';
import type { SignalView } from '@heliphon/contracts/signal';
import type { SourceHappening, SourceKey, SourceView } from '@heliphon/contracts/sources';
import { ask } from './api.js';
import { serverNowMs } from './server-clock.js';

/** Every key is the path that is asked for. */
const fetcher = <T>(path: string): Promise<T> => ask<T>(path);

async function everyPage<T>(path: string): Promise<readonly T[]> {
  const found: T[] = [];
  for (let after: string | null = ''; after !== null;) {
    const page: Page<T> = await ask(after ? `${path}&after=${encodeURIComponent(after)}` : path);
    found.push(...page.items);
    after = page.next;
  }
  return found;
}

export const useSession = () => useSWR<SessionView>('/api/session', fetcher, { shouldRetryOnError: false });

/** True when the person signed in may do this. */
export function useCan(capability: Capability): boolean {
  return useSession().data?.capabilities.includes(capability) ?? false;
}

/** The house's time zone, in which the console speaks. */
export const useZone = (): string => useSession().data?.house.zone ?? 'UTC';

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
export const useSeriesList = () => useSWR<Page<SeriesView>>('/api/series?limit=200', fetcher);
export const useSeries = (id: string | null) => useSWR<SeriesView>(id && `/api/series/${id}`, fetcher);
export const useReadiness = (id: string) =>
  useSWR<ReadinessView>(`/api/events/${id}/readiness`, fetcher, { refreshInterval: 3000 });
/** The latest rehearsals of an event; asked for again while one may be running. */
export const useRehearsals = (id: string) =>
  useSWR<Page<RehearsalView>>(`/api/events/${id}/rehearsals?limit=10`, fetcher);
export const useSignalSamples = (eventId: string) =>
  useSWR<SignalView>(`/api/events/${eventId}/signal`, fetcher, {
    refreshInterval: 5000,
    keepPreviousData: true,
  });
export const useDeskAddress = (id: string | null) =>
  useSWR<DeskView>(id && `/api/events/${id}/desk`, fetcher);
/** An event as the public sees it, for instance for its replay. */
export const usePublicEvent = (slug: string | null) =>
  useSWR<PublicEvent>(slug && `/api/public/events/${slug}`, fetcher);
export const useSources = () => useSWR<Page<SourceView>>('/api/sources?limit=200', fetcher);
export const useSourceHistory = (id: string) =>
  useSWR<Page<SourceHappening>>(`/api/sources/${id}/history?limit=20`, fetcher);
/** What to type into an encoder; asked again, since an ingest point may go away. */
export const useSourceKey = (id: string | null) =>
  useSWR<SourceKey>(id && `/api/sources/${id}/key`, fetcher, { refreshInterval: 5000 });
/** The ingest points, and how they are. */
export const usePoints = () =>
  useSWR<{ items: readonly PointView[] }>('/api/points', fetcher, { refreshInterval: 5000 });
export const useBoxes = () =>
  useSWR<Page<BoxView>>('/api/boxes?limit=100', fetcher, { refreshInterval: 5000 });
/** Whom somebody let in at a source by a link. */
export const useGuestLinks = (sourceId: string) =>
  useSWR<Page<GuestLink>>(`/api/sources/${sourceId}/guests?limit=50`, fetcher, { refreshInterval: 5000 });
/** What is on, and comes. @param sourceId - with this source alone */
export function useUpcoming(sourceId = '') {
  const hourMs = 3_600_000;
  // By the hour, so that the question stays the same.
  const fromMs = Math.floor(serverNowMs() / hourMs) * hourMs;
  return useSWR<Page<EventView>>(`/api/events?from=${fromMs}&sourceId=${sourceId}&limit=50`, fetcher);
}
export const useDestinations = () => useSWR<Page<DestinationView>>('/api/destinations?limit=200', fetcher);
export const useChannels = () => useSWR<Page<ChannelView>>('/api/channels?limit=200', fetcher);
export const usePeople = () => useSWR<Page<PersonView>>('/api/people', fetcher);
export const useInvitations = (isAllowed: boolean) =>
  useSWR<Page<InvitationView>>(isAllowed ? '/api/invitations' : null, fetcher);
export const useOwnSessions = () => useSWR<Page<SessionEntry>>('/api/own/sessions', fetcher);
export const useOwnTokens = () => useSWR<Page<TokenEntry>>('/api/own/tokens', fetcher);
/** @param channelId - of one channel; without, of all the house plans. */
export const useOwnCalendar = (channelId?: string) =>
  useSWR<OwnCalendar>(ownCalendarPath(channelId), fetcher);
export const ownCalendarPath = (channelId: string | undefined): string =>
  `/api/own/calendar${channelId ? `?channelId=${channelId}` : ''}`;
export const useOwnLetters = () => useSWR<OwnLetters>('/api/own/letters', fetcher);
/** The order sheet of an event or a series, by its path. */
export const useOrder = (path: string | null) => useSWR<OrderView>(path, fetcher);
/** One's own duties, or those of whoever a letter's address belongs to. */
export const useOwnDuties = (path: string) =>
  useSWR<OwnDuties, unknown>(path, fetcher, { shouldRetryOnError: false });
export const useHouse = () => useSWR<HouseView>('/api/house', fetcher);
export const useActivity = (query: string) =>
  useSWR<Page<ActivityEntry>>(`/api/happenings?${query}`, fetcher);
export const useRecordingOf = (event: EventView) =>
  useSWR<Page<RecordingView>>(
    event.state === 'kept' ? '/api/recordings?limit=200' : null,
    fetcher,
  ).data?.items.find(({ eventId }) => eventId === event.id);
export const useRecordingFiles = (id: string | null) =>
  useSWR<RecordingFiles>(id && `/api/recordings/${id}/files`, fetcher);
export const useChatPeople = (eventId: string) =>
  useSWR<Page<ChatPerson>>(`/api/events/${eventId}/chat/people?limit=200`, fetcher, {
    refreshInterval: 5000,
  });
export const useSaidBy = (eventId: string, personId: string) =>
  useSWR<ChatPage>(`/api/events/${eventId}/chat/people/${personId}`, fetcher);
export const useRecordings = (isBin: boolean, after: string | null) =>
  useSWR<Page<RecordingView>>(
    `/api/recordings?limit=30${isBin ? '&in=bin' : ''}${after ? `&after=${encodeURIComponent(after)}` : ''}`,
    fetcher,
  );

const MAKING_EVERY_MS = 1000;
/** Files of the house; asked for again and again while one of them is being looked into or made. */
export const useFiles = (query: string) =>
  useSWR<Page<FileView>>(`/api/files?${query}`, fetcher, {
    keepPreviousData: true,
    refreshInterval: (latest) =>
      latest?.items.some(({ state }) => state === 'waiting' || state === 'making') ? MAKING_EVERY_MS : 0,
  });
export const useFilms = () => useFiles('kind=film&state=ready&limit=200');
export const useFile = (id: string | null) => useSWR<FileView>(id && `/api/files/${id}`, fetcher);

/** What has to be asked for anew when a hint names its topic. */
const PATHS: Readonly<Record<PushTopic, readonly string[]>> = {
  events: ['/api/events', '/api/recordings', '/api/series', '/api/happenings?subjectId=', '/api/own/duties'],
  sources: ['/api/sources', '/api/boxes'],
  destinations: ['/api/destinations'],
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
