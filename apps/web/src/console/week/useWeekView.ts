import { useSearchParams } from 'react-router';
import { instantOf, isDay, startOfDay } from '@heliphon/core/schedule/civil-time';
import type { EventFilter } from '@heliphon/contracts/events';

export const VIEWS = ['week', 'list', 'month'] as const;
export type WeekView = (typeof VIEWS)[number];
const FILTERS = ['q', 'channelId', 'state', 'sourceId', 'destinationId', 'personId'] as const;
export type FilterName = (typeof FILTERS)[number];

interface WeekAddress {
  readonly view: WeekView;
  readonly firstDayMs: number;
  readonly isThisWeek: boolean;
  readonly filter: EventFilter;
  readonly isFiltered: boolean;
  readonly goTo: (dayMs: number, view?: WeekView) => void;
  readonly show: (view: WeekView) => void;
  readonly choose: (name: FilterName, value: string) => void;
  readonly clear: () => void;
}

/** What of the plan is looked at; all of it stands in the address, so that it can be kept and handed on. */
export function useWeekView(nowMs: number, zone: string): WeekAddress {
  const [params, setParams] = useSearchParams();
  const todayMs = startOfDay(nowMs, zone);
  const from = params.get('from') ?? '';
  const wished = isDay(from) ? instantOf(`${from}T12:00`, zone) : null;
  const firstDayMs = wished?.ok ? startOfDay(wished.value, zone) : todayMs;
  const view = VIEWS.find((name) => name === params.get('view')) ?? 'week';
  const filter = Object.fromEntries(
    FILTERS.flatMap((name) => {
      const value = params.get(name);
      return value ? [[name, value]] : [];
    }),
  ) as EventFilter;
  const set = (name: string, value: string): void =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: name === 'q' },
    );
  const dayOf = (ms: number): string => {
    const parts = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short' });
    return startOfDay(ms, zone) === todayMs ? '' : parts.format(ms);
  };
  return {
    view,
    firstDayMs,
    isThisWeek: firstDayMs === todayMs,
    filter,
    isFiltered: Object.keys(filter).length > 0,
    goTo: (dayMs, next) =>
      setParams((before) => {
        const after = new URLSearchParams(before);
        after.delete('from');
        const day = dayOf(dayMs);
        if (day) after.set('from', day);
        if (next === 'week') after.delete('view');
        else if (next) after.set('view', next);
        return after;
      }),
    show: (next) => set('view', next === 'week' ? '' : next),
    choose: set,
    clear: () =>
      setParams((before) => {
        const next = new URLSearchParams(before);
        for (const name of FILTERS) next.delete(name);
        return next;
      }),
  };
}
