import ICAL from 'ical.js';
import { tzlib_get_ical_block } from 'timezones-ical-library';

/** How often a calendar program should ask again. */
const ASK_AGAIN = 'PT15M';

export type Component = InstanceType<typeof ICAL.Component>;

/** What every entry says. */
export interface EntryFacts {
  readonly uid: string;
  readonly summary: string;
  readonly description: string;
  readonly address: string;
  readonly isCancelled: boolean;
  /** When it was last changed: the same at every asking until it is changed again. */
  readonly changedAtMs: number;
  /** Higher after every change. */
  readonly sequence: number;
}

/** An empty calendar of ours (RFC 5545). */
export function newCalendar(product: string, name: string): Component {
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('version', '2.0');
  calendar.addPropertyWithValue('prodid', `-//Heliphon//${product}//EN`);
  calendar.addPropertyWithValue('x-wr-calname', name);
  const again = new ICAL.Property('refresh-interval');
  again.setParameter('value', 'DURATION');
  again.setValue(ASK_AGAIN);
  calendar.addProperty(again);
  calendar.addPropertyWithValue('x-published-ttl', ASK_AGAIN);
  return calendar;
}

/** Its text, with the end of the last line. */
export const calendarText = (calendar: Component): string => ICAL.stringify(calendar.jCal);

/** An entry, without its times. */
export function newEntry(facts: EntryFacts): Component {
  const entry = new ICAL.Component('vevent');
  entry.addPropertyWithValue('uid', facts.uid);
  entry.addPropertyWithValue('dtstamp', utcTime(facts.changedAtMs));
  entry.addPropertyWithValue('sequence', facts.sequence);
  entry.addPropertyWithValue('summary', facts.summary);
  entry.addPropertyWithValue('description', facts.description);
  entry.addPropertyWithValue('location', facts.address);
  entry.addPropertyWithValue('url', facts.address);
  entry.addPropertyWithValue('status', facts.isCancelled ? 'CANCELLED' : 'CONFIRMED');
  return entry;
}

/** From one instant to another, in UTC: every program shows them in its own zone. */
export function setInstants(entry: Component, startsAtMs: number, stopsAtMs: number): void {
  entry.addPropertyWithValue('dtstart', utcTime(startsAtMs));
  entry.addPropertyWithValue('dtend', utcTime(stopsAtMs));
}

/** A time by the clock on the wall of a zone. @param local - `2026-03-07T10:30` */
export function addLocalTime(entry: Component, name: string, local: string, zone: string): void {
  const property = new ICAL.Property(name);
  property.setParameter('tzid', zone);
  property.setValue(ICAL.Time.fromDateTimeString(`${local}:00`));
  entry.addProperty(property);
}

/** What a program has to know of a zone to reckon with it. */
export function addZone(calendar: Component, zone: string): void {
  const [block] = tzlib_get_ical_block(zone);
  if (block) calendar.addSubcomponent(ICAL.Component.fromString(String(block)));
}

export const utcTime = (ms: number): InstanceType<typeof ICAL.Time> =>
  ICAL.Time.fromJSDate(new Date(Math.floor(ms / 1000) * 1000), true);
