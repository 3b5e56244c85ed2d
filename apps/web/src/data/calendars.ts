import useSWR from 'swr';
import type { ImportView } from '@heliphon/contracts/calendar-import';
import type { OwnCalendar } from '@heliphon/contracts/calendars';
import { ask } from './api.js';
import { fetcher, thenRefresh, thenAskAgain } from './cache.js';

/** @param channelId - of one channel; without, of all the house plans. */
export const useOwnCalendar = (channelId?: string) =>
  useSWR<OwnCalendar>(ownCalendarPath(channelId), fetcher);

export const ownCalendarPath = (channelId: string | undefined): string =>
  `/api/own/calendar${channelId ? `?channelId=${channelId}` : ''}`;

/** Looks at a calendar file, or takes it over. */
export function takeCalendar(step: 'preview' | 'import', calendar: Blob): Promise<ImportView> {
  const form = new FormData();
  form.set('calendar', calendar, 'plan.ics');
  return thenRefresh('events', ask(`/api/calendar/${step}`, { method: 'POST', form }));
}

/** Makes one's calendar address, or a new one in place of the old. @param path - of `ownCalendarPath` */
export const renewCalendar = (path: string): Promise<OwnCalendar> =>
  thenAskAgain(path, ask(path, { method: 'POST' }));

export const endCalendar = (path: string): Promise<void> =>
  thenAskAgain(path, ask(path, { method: 'DELETE' }));
