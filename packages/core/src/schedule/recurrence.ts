import { RRuleTemporal } from 'rrule-temporal';
import { Temporal } from 'temporal-polyfill';
import { type Result, refuse, succeed } from '../result.js';
import { type Rule, WEEKDAYS } from './rule-choices.js';

export const RULE_LIMITS = {
  textLength: 300,
  /** Every so many days, weeks, months or years at most. */
  interval: 100,
  count: 1000,
  /** How far a series may begin from today. */
  years: 10,
} as const;

const STEP_DAYS = 400;
const FREQUENCIES = { DAILY: 'day', WEEKLY: 'week', MONTHLY: 'month', YEARLY: 'year' } as const;
/** Parts of a rule that say which days; parts for hours and minutes have no use for what has one time of day. */
const KNOWN_PARTS = [
  'FREQ',
  'INTERVAL',
  'COUNT',
  'UNTIL',
  'BYDAY',
  'BYMONTHDAY',
  'BYMONTH',
  'BYSETPOS',
  'WKST',
];

export type RuleRefusal =
  | { readonly code: 'not-a-rule' }
  /** Hours, minutes, weeks of the year: nothing that a series of dates needs. */
  | { readonly code: 'part-unknown'; readonly part: string }
  | { readonly code: 'too-large'; readonly part: string; readonly most: number };

/** Reads a rule as people paste it, with or without `RRULE:` before it. */
export function readRule(typed: string): Result<Rule, RuleRefusal> {
  const text = typed
    .trim()
    .replace(/^RRULE:/i, '')
    .toUpperCase();
  if (text.length > RULE_LIMITS.textLength) return refuse({ code: 'not-a-rule' });
  const unknown = text
    .split(';')
    .map((part) => part.split('=')[0]!)
    .find((part) => !KNOWN_PARTS.includes(part));
  let options: ReturnType<RRuleTemporal['options']>;
  try {
    options = expander(text, '2026-01-01').options();
  } catch {
    return refuse({ code: 'not-a-rule' });
  }
  if (unknown !== undefined) return refuse({ code: 'part-unknown', part: unknown });
  const unit = FREQUENCIES[options.freq as keyof typeof FREQUENCIES];
  if (unit === undefined) return refuse({ code: 'part-unknown', part: options.freq });
  const every = options.interval ?? 1;
  for (const [part, value, most] of [
    ['INTERVAL', every, RULE_LIMITS.interval],
    ['COUNT', options.count ?? 1, RULE_LIMITS.count],
  ] as const)
    if (value > most) return refuse({ code: 'too-large', part, most });
  return succeed({
    text: text.replace(/UNTIL=(\d{8})T\w+/, 'UNTIL=$1'),
    every,
    unit,
    weekdays: (options.byDay ?? []).map(weekdayOf),
    monthDays: options.byMonthDay ?? [],
    months: (options.byMonth ?? []).map(Number),
    positions: options.bySetPos ?? [],
    untilDate: /UNTIL=(\d{4})(\d{2})(\d{2})/.exec(text)?.slice(1).join('-') ?? null,
    count: options.count ?? null,
  });
}

/** One date of a series. */
export interface Occurrence {
  /** The day by the rule, `2026-03-29`: what names this date, wherever it is moved to. */
  readonly date: string;
  readonly startsAtMs: number;
  /** The clocks go forward over the time wished for; it begins so much later by the clock on the wall. */
  readonly shiftedTo: string | null;
}

export interface Repetition {
  readonly rule: Rule;
  /** The first day, `2026-03-01`; a series may have no date on it. */
  readonly firstDate: string;
  /** By the clock on the wall, `10:30`. */
  readonly timeOfDay: string;
  readonly zone: string;
}

/**
 * Dates of a repetition whose day lies within two days, both included, in order. Of a time that comes twice it is the
 * first; one that does not exist moves on by what the clocks skip (RFC 5545, 3.3.5).
 * @param most - so many at most.
 */
export function occurrencesOf(
  repetition: Repetition,
  fromDate: string,
  toDate: string,
  most: number,
): Occurrence[] {
  const { rule, firstDate, timeOfDay, zone } = repetition;
  const found: Occurrence[] = [];
  const expanded = expander(rule.text, firstDate);
  // Days have no clock: each begins at midnight of UTC, so that noon of the day before is before it and no other.
  const noon = (date: string): Date => new Date(`${date}T12:00:00Z`);
  // In steps, so that a rule without an end costs no more than is asked for.
  for (let from = fromDate; from <= toDate && found.length < most; from = daysAfter(from, STEP_DAYS)) {
    const last = daysAfter(from, STEP_DAYS - 1);
    const days = expanded.between(noon(daysAfter(from, -1)), noon(last < toDate ? last : toDate), false);
    for (const day of days) found.push(occurrenceOn(day.toPlainDate(), timeOfDay, zone));
  }
  return found.slice(0, most);
}

function occurrenceOn(day: Temporal.PlainDate, timeOfDay: string, zone: string): Occurrence {
  const wished = day.toPlainDateTime(Temporal.PlainTime.from(timeOfDay));
  const at = wished.toZonedDateTime(zone, { disambiguation: 'compatible' });
  const isShifted = !at.toPlainDateTime().equals(wished);
  return {
    date: day.toString(),
    startsAtMs: at.epochMilliseconds,
    shiftedTo: isShifted ? at.toPlainTime().toString({ smallestUnit: 'minute' }) : null,
  };
}

const daysAfter = (date: string, days: number): string =>
  Temporal.PlainDate.from(date).add({ days }).toString();

const expander = (text: string, firstDate: string): RRuleTemporal =>
  new RRuleTemporal({
    rruleString: text,
    dtstart: Temporal.PlainDate.from(firstDate).toZonedDateTime('UTC') as never,
    temporal: Temporal as never,
  });

function weekdayOf(text: string): Rule['weekdays'][number] {
  const [, nth, name] = /^([+-]?\d+)?([A-Z]{2})$/.exec(text) ?? [];
  return {
    weekday: WEEKDAYS.indexOf(name as (typeof WEEKDAYS)[number]) + 1,
    nth: nth ? Number(nth) : null,
  };
}
