import ICAL from 'ical.js';
import { instantOf, localOf } from '@heliphon/core/schedule/civil-time';
import { type Occurrence, occurrencesOf } from '@heliphon/core/schedule/recurrence';
import type { EventEntity } from '../tables/event.entity.js';
import type { SeriesEntity } from '../tables/series.entity.js';
import { repetitionOf } from '../series/series-dates.js';
import {
  addLocalTime,
  addZone,
  calendarText,
  type Component,
  newCalendar,
  newEntry,
  setInstants,
  utcTime,
} from './calendar-text.js';

const MINUTE_MS = 60_000;
/** A daily series of ten years. */
const MOST_OCCURRENCES = 4000;

export interface CalendarEntry {
  /** What names it to calendar programs. */
  readonly id: string;
  readonly summary: string;
  readonly event: EventEntity;
}

/** A series as a calendar shows it: by its rule, with what differs. */
export interface CalendarSeries {
  readonly series: SeriesEntity;
  /** Those of its events that are in view. */
  readonly events: readonly EventEntity[];
  /** The days on which it has an event at all, in view or not. */
  readonly days: ReadonlySet<string>;
  /** Days that were taken out of it, also far ahead. */
  readonly skips: readonly string[];
}

interface CalendarFacts {
  readonly name: string;
  readonly publicUrl: string;
  readonly entries: readonly CalendarEntry[];
  readonly series?: readonly CalendarSeries[];
}

/** What names an event or a series to calendar programs, whichever file it comes in. */
export const calendarId = (id: string): string => `${id}@heliphon`;

/** An event as everybody's calendar shows it. */
export const entryOf = (event: EventEntity): CalendarEntry => ({
  id: calendarId(event.id),
  summary: event.title,
  event,
});

/** A house's events as a calendar to subscribe to: single ones as instants, series by their rules. */
export function calendarFile({ name, publicUrl, entries, series = [] }: CalendarFacts): string {
  const calendar = newCalendar('Calendar', name);
  for (const zone of new Set(series.map((one) => one.series.zone))) addZone(calendar, zone);
  for (const one of series)
    for (const entry of seriesEntries(one, publicUrl)) calendar.addSubcomponent(entry);
  for (const { id, summary, event } of entries) {
    const entry = newEntry({ ...factsOf(event, publicUrl), uid: id, summary });
    setInstants(entry, event.startsAtMs, event.stopsAtMs);
    calendar.addSubcomponent(entry);
  }
  return calendarText(calendar);
}

const factsOf = (event: EventEntity, publicUrl: string) => {
  const address = `${publicUrl}/watch/${event.slug}`;
  return {
    uid: calendarId(event.id),
    summary: event.title,
    description: [event.notice, event.description, address].filter(Boolean).join('\n\n'),
    address,
    isCancelled: event.state === 'cancelled',
    changedAtMs: event.changedAtMs,
    sequence: event.version,
  };
};

/** The rule, the days it leaves out, the dates that differ from it, and events on days that are none of its any more. */
function* seriesEntries(
  { series, events, days, skips }: CalendarSeries,
  publicUrl: string,
): Generator<Component> {
  const occurrences = occurrencesOf(
    repetitionOf(series),
    series.firstDate,
    series.plannedUntil,
    MOST_OCCURRENCES,
  );
  const [first] = occurrences;
  if (!first) return;
  const { zone, timeOfDay } = series;
  const address = `${publicUrl}/watch/${series.slug}`;
  const master = newEntry({
    uid: calendarId(series.id),
    summary: series.title,
    description: [series.description, address].filter(Boolean).join('\n\n'),
    address,
    isCancelled: false,
    changedAtMs: series.changedAtMs,
    sequence: series.version,
  });
  addLocalTime(master, 'dtstart', `${first.date}T${timeOfDay}`, zone);
  master.addPropertyWithValue('duration', ICAL.Duration.fromSeconds(series.lengthMinutes * 60));
  master.addPropertyWithValue('rrule', ICAL.Recur.fromString(ruleInInstants(series)));
  const absent = occurrences.map(({ date }) => date).filter((date) => !days.has(date));
  for (const date of [...absent, ...skips.filter((day) => day > series.plannedUntil)])
    addLocalTime(master, 'exdate', `${date}T${timeOfDay}`, zone);
  yield master;
  const byDay = new Map(occurrences.map((occurrence) => [occurrence.date, occurrence]));
  for (const event of events) {
    const occurrence = byDay.get(event.seriesDate ?? '');
    if (occurrence && !differs(event, series, occurrence)) continue;
    const facts = factsOf(event, publicUrl);
    const entry = newEntry(occurrence ? { ...facts, uid: calendarId(series.id) } : facts);
    if (occurrence) {
      addLocalTime(entry, 'recurrence-id', `${occurrence.date}T${timeOfDay}`, zone);
      addLocalTime(entry, 'dtstart', localOf(event.startsAtMs, zone), zone);
      addLocalTime(entry, 'dtend', localOf(event.stopsAtMs, zone), zone);
    } else setInstants(entry, event.startsAtMs, event.stopsAtMs);
    yield entry;
  }
}

const differs = (event: EventEntity, series: SeriesEntity, { startsAtMs }: Occurrence): boolean =>
  event.startsAtMs !== startsAtMs ||
  event.stopsAtMs - event.startsAtMs !== series.lengthMinutes * MINUTE_MS ||
  event.title !== series.title ||
  event.description !== series.description ||
  event.notice !== null ||
  event.state === 'cancelled';

/** Beside times by a clock on the wall `UNTIL` is an instant in UTC (RFC 5545, 3.3.10): the end of that day there. */
const ruleInInstants = ({ rule, zone }: SeriesEntity): string =>
  rule.replace(/UNTIL=(\d{4})(\d{2})(\d{2})(?!T)/, (_, year: string, month: string, day: string) => {
    const end = instantOf(`${year}-${month}-${day}T23:59`, zone);
    return end.ok ? `UNTIL=${utcTime(end.value).toICALString()}` : `UNTIL=${year}${month}${day}T235959Z`;
  });
