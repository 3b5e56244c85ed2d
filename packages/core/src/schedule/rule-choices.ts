import { Temporal } from 'temporal-polyfill';

/** The days of a week as RFC 5545 names them, Monday first. */
export const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;

/** A repetition by days, read from the text of an RRULE (RFC 5545, 3.3.10). */
export interface Rule {
  /** The rule in the standard's words, the end left to its last day: `FREQ=WEEKLY;BYDAY=SU`. */
  readonly text: string;
  readonly every: number;
  readonly unit: 'day' | 'week' | 'month' | 'year';
  /** 1 is Monday; `nth` counts within month or year, from the end where it is negative. */
  readonly weekdays: readonly { readonly weekday: number; readonly nth: number | null }[];
  readonly monthDays: readonly number[];
  readonly months: readonly number[];
  /** Which of the days of a period, where not all: -1 is the last. */
  readonly positions: readonly number[];
  readonly untilDate: string | null;
  readonly count: number | null;
}

/** How people name what repeats; `nth` counts its weekday within the month. */
export type UsualKind = 'weekly' | 'other-week' | 'nth' | 'last' | 'daily';

/** The rules people choose from, by the first date: each week on its weekday, the second Sunday of a month, and so on. */
export function usualRules(firstDate: string): readonly { readonly kind: UsualKind; readonly rule: Rule }[] {
  const day = Temporal.PlainDate.from(firstDate);
  const name = WEEKDAYS[day.dayOfWeek - 1]!;
  const nth = Math.ceil(day.day / 7);
  const isLast = day.day + 7 > day.daysInMonth;
  const rule = (text: string, part: Partial<Rule>): Rule => ({ ...ANY, text, ...part });
  const on = (nth: number | null): Rule['weekdays'] => [{ weekday: day.dayOfWeek, nth }];
  const monthly = (count: number): Rule =>
    rule(`FREQ=MONTHLY;BYDAY=${count}${name}`, { unit: 'month', weekdays: on(count) });
  return [
    { kind: 'weekly', rule: rule(`FREQ=WEEKLY;BYDAY=${name}`, { weekdays: on(null) }) },
    {
      kind: 'other-week',
      rule: rule(`FREQ=WEEKLY;INTERVAL=2;BYDAY=${name}`, { every: 2, weekdays: on(null) }),
    },
    ...(nth < 5 ? [{ kind: 'nth', rule: monthly(nth) } as const] : []),
    ...(isLast ? [{ kind: 'last', rule: monthly(-1) } as const] : []),
    { kind: 'daily', rule: rule('FREQ=DAILY', { unit: 'day' }) },
  ];
}

const ANY: Omit<Rule, 'text'> = {
  every: 1,
  unit: 'week',
  weekdays: [],
  monthDays: [],
  months: [],
  positions: [],
  untilDate: null,
  count: null,
};

/** A rule with another end: after a day, after a number of dates, or none. */
export function withEnd(text: string, end: { untilDate: string } | { count: number } | null): string {
  const open = text
    .split(';')
    .filter((part) => !/^(UNTIL|COUNT)=/.test(part))
    .join(';');
  if (end === null) return open;
  return 'count' in end ? `${open};COUNT=${end.count}` : `${open};UNTIL=${end.untilDate.replaceAll('-', '')}`;
}
