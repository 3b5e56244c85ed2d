import { settingWords } from './event-settings.js';
import type { Rule } from '@heliphon/core/schedule/rule-choices';
import type { SeriesField } from '@heliphon/core/schedule/series-plan';

const LOCALE = 'en-GB';
const list = new Intl.ListFormat(LOCALE, { type: 'conjunction' });
const utc = (options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat =>
  new Intl.DateTimeFormat(LOCALE, { timeZone: 'UTC', ...options });
const WEEKDAY = utc({ weekday: 'long' });
const MONTH = utc({ month: 'long' });
const DAY = utc({ day: 'numeric', month: 'long', year: 'numeric' });
const LONG_DAY = utc({ weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });

/** 5 January 1970 was a Monday. */
const weekdayName = (weekday: number): string => WEEKDAY.format(Date.UTC(1970, 0, 4 + weekday));
const monthName = (month: number): string => MONTH.format(Date.UTC(1970, month - 1, 1));
const instantOf = (date: string): number => Date.parse(`${date}T00:00Z`);

const ordinal = (count: number): string => {
  if (count === -1) return 'last';
  if (count < 0) return `${ordinal(-count)} last`;
  const names = ['', 'first', 'second', 'third', 'fourth', 'fifth'];
  return names[count] ?? `${count}th`;
};

/** `2026-03-08` as `Sunday 8 March 2026`. */
export const dateWords = (date: string): string => LONG_DAY.format(instantOf(date)).replace(',', '');

/** A rule as a plain sentence without its full stop: `every Sunday, until 24 December 2026`. */
export function repeatWords(rule: Rule): string {
  const parts = [periodWords(rule)];
  if (rule.months.length > 0 && rule.unit !== 'year')
    parts.push(`in ${list.format(rule.months.map(monthName))}`);
  if (rule.positions.length > 0)
    parts.push(`only the ${list.format(rule.positions.map(ordinal))} of these days`);
  if (rule.untilDate) parts.push(`until ${DAY.format(instantOf(rule.untilDate))}`);
  if (rule.count) parts.push(rule.count === 1 ? 'once' : `${rule.count} times`);
  return parts.join(', ');
}

function periodWords({ unit, every, weekdays, monthDays, months }: Rule): string {
  const period =
    every === 1 ? `every ${unit}` : every === 2 ? `every other ${unit}` : `every ${every} ${unit}s`;
  const days = weekdays.map(({ weekday, nth }) =>
    nth === null ? weekdayName(weekday) : `the ${ordinal(nth)} ${weekdayName(weekday)}`,
  );
  const inMonth = monthDays.map((day) => (day < 0 ? `the ${ordinal(day)} day` : `the ${day}.`));
  if (unit === 'week' && every === 1 && days.length > 0) return `every ${list.format(days)}`;
  const on = [...days, ...inMonth];
  const where = unit === 'year' && months.length > 0 ? ` in ${list.format(months.map(monthName))}` : '';
  return on.length > 0 ? `${period}${where} on ${list.format(on)}` : `${period}${where}`;
}

const FIELDS: Readonly<Record<SeriesField, string>> = {
  title: 'the title',
  description: 'the description',
  when: 'the time',
  channelId: 'the channel',
  sourceId: 'the source',
  standbySourceId: 'the second source',
  destinationIds: 'where it goes',
  duties: 'who is on duty',
  posterId: 'the poster',
  filmId: 'the opening film',
  ...settingWords('ofDate'),
};

/** What one date changed by itself: `the title and the time`. */
export const fieldWords = (fields: readonly SeriesField[]): string =>
  list.format(fields.map((field) => FIELDS[field]));
