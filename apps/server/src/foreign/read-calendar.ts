import ICAL from 'ical.js';
import { instantOf, isZone, localOf } from '@heliphon/core/schedule/civil-time';
import type { ImportedEvent } from '@heliphon/core/schedule/import-plan';
import { occurrencesOf, readRule } from '@heliphon/core/schedule/recurrence';
import type { Rule } from '@heliphon/core/schedule/rule-choices';
import { IMPORT_LIMITS, type ImportReason } from '@heliphon/contracts/calendar-import';
import { EVENT_LIMITS } from '@heliphon/contracts/events';

/** A file that is not read at all. Light on purpose: this is read in a thread of its own, which has to be there at once. */
export class CalendarRefusal extends Error {
  override readonly name = 'CalendarRefusal';
  constructor(
    readonly code: 'calendar-unreadable' | 'calendar-too-many',
    readonly params: Readonly<Record<string, number>> = {},
  ) {
    super(code);
  }
}

/** An entry that can become an event, or a series of them. */
export interface ReadEntry extends ImportedEvent {
  readonly zone: string;
  readonly rule: Rule | null;
  /** The first date by the rule after now; `null` where there is none, or no rule. */
  readonly nextAtMs: number | null;
  /** Days that the rule leaves out, `2026-03-08`. */
  readonly leftOut: readonly string[];
}

/** What cannot be taken over, and why. */
export interface RefusedEntry {
  readonly uid: string;
  readonly title: string;
  readonly reason: ImportReason;
}

export type CalendarEntry = { readonly read: ReadEntry } | { readonly refused: RefusedEntry };

/**
 * The entries of an iCalendar file (RFC 5545). Of what repeats the next date is looked for; that may take its time, and so
 * this is not read where others wait.
 * @param houseZone - for times without a zone of their own.
 * @throws CalendarRefusal for what is no calendar, or has too many entries
 */
export function readCalendar(text: string, houseZone: string, nowMs: number): CalendarEntry[] {
  const calendars = parse(text);
  const components = calendars.flatMap((calendar) => {
    // Zones of the file's own making are known by what it says of them.
    for (const zone of calendar.getAllSubcomponents('vtimezone'))
      if (isOrdinaryZone(zone)) ICAL.TimezoneService.register(zone);
    return calendar.getAllSubcomponents('vevent');
  });
  if (components.length > IMPORT_LIMITS.entries)
    throw new CalendarRefusal('calendar-too-many', { most: IMPORT_LIMITS.entries });
  try {
    return components.map((component) => readEntry(component, houseZone, nowMs));
  } finally {
    ICAL.TimezoneService.reset();
  }
}

/** Clocks change once or twice a year: a zone whose rules say otherwise is none, and would cost what it likes to work out. */
const isOrdinaryZone = (zone: Component): boolean =>
  zone
    .getAllSubcomponents()
    .flatMap((part) => part.getAllProperties('rrule'))
    .every((rule) => /^FREQ=YEARLY\b/i.test(String(rule.getFirstValue())));

type Component = InstanceType<typeof ICAL.Component>;
type Time = InstanceType<typeof ICAL.Time>;

function parse(text: string): Component[] {
  try {
    const parsed = ICAL.parse(text) as unknown[];
    const roots = (Array.isArray(parsed[0]) ? parsed : [parsed]) as unknown[][];
    return roots.map((root) => {
      if (root[0] !== 'vcalendar') throw new Error('No calendar');
      return new ICAL.Component(root);
    });
  } catch {
    throw new CalendarRefusal('calendar-unreadable');
  }
}

function readEntry(component: Component, houseZone: string, nowMs: number): CalendarEntry {
  const words = (name: string): string => String(component.getFirstPropertyValue(name) ?? '').trim();
  const title = words('summary').slice(0, EVENT_LIMITS.titleLength) || '–';
  const uid = words('uid').slice(0, 255);
  const refused = (reason: ImportReason): CalendarEntry => ({ refused: { uid, title, reason } });
  if (uid === '') return refused('unreadable');
  if (component.getFirstProperty('recurrence-id')) return refused('one-date');
  try {
    const entry = new ICAL.Event(component);
    if (!entry.startDate) return refused('unreadable');
    if (entry.startDate.isDate) return refused('all-day');
    const zone = zoneOf(component, entry.startDate, houseZone);
    if (zone === null) return refused('zone-unknown');
    const startsAtMs = toInstant(entry.startDate, zone);
    const stopsAtMs = toInstant(entry.endDate, zone);
    if (startsAtMs === null || stopsAtMs === null) return refused('zone-unknown');
    const read = {
      uid,
      title,
      description: withoutAddress(words('description'), words('url')).slice(
        0,
        EVENT_LIMITS.descriptionLength,
      ),
      startsAtMs,
      stopsAtMs,
      isCancelled: words('status').toUpperCase() === 'CANCELLED',
      zone,
    };
    const rules = component.getAllProperties('rrule');
    if (rules.length === 0) return { read: { ...read, rule: null, nextAtMs: null, leftOut: [] } };
    const rule = readRule(String(rules[0]!.getFirstValue()));
    if (rules.length > 1 || component.getFirstProperty('rdate') || !rule.ok)
      return refused('rule-unreadable');
    const leftOut = component
      .getAllProperties('exdate')
      .flatMap((property) => property.getValues() as Time[])
      .map((time) => localOf(toInstant(time, zone) ?? 0, zone).slice(0, 10));
    return { read: { ...read, rule: rule.value, nextAtMs: nextOf(rule.value, read, nowMs), leftOut } };
  } catch {
    return refused('unreadable');
  }
}

/** So far ahead a next date is looked for. */
const AHEAD_MS = 366 * 86_400_000;

function nextOf(
  rule: Rule,
  { startsAtMs, zone }: Pick<ReadEntry, 'startsAtMs' | 'zone'>,
  nowMs: number,
): number | null {
  const [firstDate, timeOfDay] = localOf(startsAtMs, zone).split('T') as [string, string];
  const dayOf = (ms: number): string => localOf(ms, zone).slice(0, 10);
  const until = dayOf(Math.max(nowMs, startsAtMs) + AHEAD_MS);
  const coming = occurrencesOf({ rule, firstDate, timeOfDay, zone }, dayOf(nowMs), until, 2);
  return coming.find((occurrence) => occurrence.startsAtMs > nowMs)?.startsAtMs ?? null;
}

/** Calendars, ours among them, often repeat an entry's address beneath its words. */
const withoutAddress = (description: string, url: string): string =>
  url !== '' && description.endsWith(url) ? description.slice(0, -url.length).trim() : description;

/** The IANA zone in which an entry keeps its time of day; `null` for one that nobody knows. */
function zoneOf(component: Component, start: Time, houseZone: string): string | null {
  const named = component.getFirstProperty('dtstart')!.getParameter('tzid');
  if (typeof named !== 'string') return start.zone === ICAL.Timezone.utcTimezone ? 'UTC' : houseZone;
  if (isZone(named)) return named;
  // Told by the file alone: its instants are right, and are then kept as the house's times.
  return ICAL.TimezoneService.has(named) ? houseZone : null;
}

/** The instant of a time: by its zone of the file's own, or by the clock on the wall of ours. */
function toInstant(time: Time, zone: string): number | null {
  if (time.zone === ICAL.Timezone.utcTimezone) return time.toUnixTime() * 1000;
  const isOwnZone = time.zone !== ICAL.Timezone.localTimezone && !isZone(time.zone.tzid);
  if (isOwnZone) return time.toUnixTime() * 1000;
  const two = (value: number): string => String(value).padStart(2, '0');
  const local = `${time.year}-${two(time.month)}-${two(time.day)}T${two(time.hour)}:${two(time.minute)}`;
  const instant = instantOf(local, zone);
  if (instant.ok) return instant.value;
  return instant.error.code === 'does-not-exist' ? toInstantAfter(instant.error.nextLocal, zone) : null;
}

function toInstantAfter(local: string, zone: string): number | null {
  const instant = instantOf(local, zone);
  return instant.ok ? instant.value : null;
}
