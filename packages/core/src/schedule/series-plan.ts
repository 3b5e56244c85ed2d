import { SETTING_NAMES, type SettingName } from './event-settings.js';
import type { EventState } from './event-life.js';
import type { Occurrence } from './recurrence.js';

/** How far ahead the dates of a series come into being. */
export const AHEAD_DAYS = 90;

/** What of an event its series sets; a date that differs in one of them keeps its own. */
const PLAIN_FIELDS = [
  'title',
  'description',
  'when',
  'channelId',
  'sourceId',
  'standbySourceId',
  'destinationIds',
  'duties',
  'posterId',
  'filmId',
] as const;
export type SeriesField = (typeof PLAIN_FIELDS)[number] | SettingName;
/** … and the settings of an event. */
export const SERIES_FIELDS: readonly SeriesField[] = [...PLAIN_FIELDS, ...SETTING_NAMES];

/** An event that came into being for a date of the series. */
export interface DatedEvent {
  readonly eventId: string;
  /** The day by the rule, which names it even after it was moved. */
  readonly date: string;
  readonly state: EventState;
  readonly ownFields: readonly SeriesField[];
}

export interface SeriesPlan {
  readonly make: readonly Occurrence[];
  /** Already there, and to be brought to what the series says now, but for what is their own. */
  readonly follow: readonly { readonly eventId: string; readonly occurrence: Occurrence }[];
  /** Planned for days that are no dates any more, and nobody has touched them. */
  readonly remove: readonly DatedEvent[];
  /** Days that are no dates any more, but somebody changed what happens there: left as they are. */
  readonly leave: readonly DatedEvent[];
}

/**
 * What has to be done so that the events of a series are its dates: those that have begun, were cancelled or skipped are
 * never touched. Done twice, the second time nothing is left to make or remove.
 * @param events - of the same days as the occurrences.
 * @param skipped - days without an event.
 */
export function planSeries(
  occurrences: readonly Occurrence[],
  events: readonly DatedEvent[],
  skipped: ReadonlySet<string>,
): SeriesPlan {
  const byDate = new Map(events.map((event) => [event.date, event]));
  const wanted = occurrences.filter(({ date }) => !skipped.has(date));
  const dates = new Set(wanted.map(({ date }) => date));
  const stray = events.filter(({ date, state }) => state === 'planned' && !dates.has(date));
  return {
    make: wanted.filter(({ date }) => !byDate.has(date)),
    follow: wanted.flatMap((occurrence) => {
      const event = byDate.get(occurrence.date);
      return event?.state === 'planned' ? [{ eventId: event.eventId, occurrence }] : [];
    }),
    remove: stray.filter(({ ownFields }) => ownFields.length === 0),
    leave: stray.filter(({ ownFields }) => ownFields.length > 0),
  };
}

const HOUR_MS = 3_600_000;
/** What has ended is still what people come for, for so long. */
const LAST_FOR_MS = 24 * HOUR_MS;
/** So long before the next begins, they come for that. */
const NEXT_FROM_MS = 12 * HOUR_MS;

interface ShownEvent {
  readonly state: EventState;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
  readonly endAtMs: number | null;
}

/**
 * Which of its events the one address of a series shows: what is on, else what has just ended, else what comes next, else
 * the last there was. A date that was cancelled is shown like any other, so that nobody waits for it in vain.
 */
export function shownOf<Event extends ShownEvent>(events: readonly Event[], nowMs: number): Event | null {
  const byStart = [...events].sort((a, b) => a.startsAtMs - b.startsAtMs);
  const present = byStart.find(({ state }) => state === 'air' || state === 'doors');
  if (present) return present;
  const endOf = (event: Event): number => event.endAtMs ?? event.stopsAtMs;
  const isPast = (event: Event): boolean =>
    event.state === 'kept' || (event.state === 'cancelled' && event.stopsAtMs <= nowMs);
  const next = byStart.find((event) => !isPast(event)) ?? null;
  const last = byStart.filter((event) => event.state === 'kept').at(-1) ?? null;
  if (!next || !last) return next ?? last;
  const isFresh = nowMs < Math.min(endOf(last) + LAST_FOR_MS, next.startsAtMs - NEXT_FROM_MS);
  return isFresh ? last : next;
}
