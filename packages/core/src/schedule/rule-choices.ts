import { Temporal } from 'temporal-polyfill';

/** The days of a week as RFC 5545 names them, Monday first. */
export const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;

/** The rules people choose from, by the first date: each week on its weekday, the second Sunday of a month, and so on. */
export function usualRules(firstDate: string): readonly string[] {
  const day = Temporal.PlainDate.from(firstDate);
  const weekday = WEEKDAYS[day.dayOfWeek - 1]!;
  const nth = Math.ceil(day.day / 7);
  const isLast = day.day + 7 > day.daysInMonth;
  return [
    `FREQ=WEEKLY;BYDAY=${weekday}`,
    `FREQ=WEEKLY;INTERVAL=2;BYDAY=${weekday}`,
    ...(nth < 5 ? [`FREQ=MONTHLY;BYDAY=${nth}${weekday}`] : []),
    ...(isLast ? [`FREQ=MONTHLY;BYDAY=-1${weekday}`] : []),
    'FREQ=DAILY',
  ];
}

/** A rule with another end: after a day, after so many dates, or none. */
export function withEnd(text: string, end: { untilDate: string } | { count: number } | null): string {
  const open = text
    .split(';')
    .filter((part) => !/^(UNTIL|COUNT)=/.test(part))
    .join(';');
  if (end === null) return open;
  return 'count' in end ? `${open};COUNT=${end.count}` : `${open};UNTIL=${end.untilDate.replaceAll('-', '')}`;
}
