import { type CalendarWords, calendarWords } from '@heliphon/core/languages/calendar-words';

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;

const formats = new Map<string, Intl.DateTimeFormat>();
function formatOf(tag: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${tag} ${JSON.stringify(options)}`;
  const format = formats.get(key) ?? new Intl.DateTimeFormat(tag, options);
  formats.set(key, format);
  return format;
}

const WEEKDAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];

/** The day that an instant falls on; weekday and month count from 0. */
function dayOf(ms: number, zone: string | undefined): { weekday: number; day: number; month: number } {
  const options = { weekday: 'short', day: 'numeric', month: 'numeric', timeZone: zone } as const;
  const parts = formatOf('en-GB', options).formatToParts(ms);
  const part = (wanted: string): string => parts.find(({ type }) => type === wanted)!.value;
  return {
    weekday: WEEKDAYS.indexOf(part('weekday')),
    day: Number(part('day')),
    month: Number(part('month')) - 1,
  };
}

/** Days and hours as a language says them. Without a zone, the reader's own. */
export interface TimeWords {
  /** `10:30`. */
  readonly timeOfDay: (ms: number, zone?: string) => string;
  /** `Sun 7 Mar`. */
  readonly shortDay: (ms: number, zone?: string) => string;
  /** `Sunday 7 March`. */
  readonly longDay: (ms: number, zone?: string) => string;
  /** `7 Mar`. */
  readonly dayOfMonth: (ms: number, zone?: string) => string;
  /** `Sun 7`. */
  readonly dayName: (ms: number, zone?: string) => string;
  /** `Sun 7 Mar, 10:30`. */
  readonly dayAndTime: (ms: number, zone?: string) => string;
}

/** @param tag - of the language, as BCP 47 writes it */
export function timeWords(tag: string, { weekdays, months, order }: CalendarWords): TimeWords {
  const said = (ms: number, zone: string | undefined, length: 'long' | 'short', form: string): string => {
    const { weekday, day, month } = dayOf(ms, zone);
    const words: Readonly<Record<string, string>> = {
      weekday: weekdays[length][weekday]!,
      day: day.toLocaleString(tag),
      month: months[length][month]!,
    };
    return form.replace(/\{(\w+)\}/g, (_, name: string) => words[name] ?? '');
  };
  const timeOfDay = (ms: number, zone?: string): string =>
    formatOf(tag, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23', timeZone: zone }).format(ms);
  const shortDay = (ms: number, zone?: string): string => said(ms, zone, 'short', order.short);
  return {
    timeOfDay,
    shortDay,
    longDay: (ms, zone) => said(ms, zone, 'long', order.long),
    dayOfMonth: (ms, zone) => said(ms, zone, 'short', order.month),
    dayName: (ms, zone) => said(ms, zone, 'short', '{weekday} {day}'),
    dayAndTime: (ms, zone) => `${shortDay(ms, zone)}, ${timeOfDay(ms, zone)}`,
  };
}

const ENGLISH = timeWords('en-GB', calendarWords('en-GB'));
/** As the console says them. */
export const { timeOfDay, shortDay, longDay, dayName, dayAndTime } = ENGLISH;

/**
 * What the clock of a house says, where the reader's own says something else: the hour, or the day too where that differs; `null` where it does not.
 * @param houseZone - an IANA zone; its last part is the city it is named by
 */
export function clockThere(
  { timeOfDay, shortDay, dayAndTime }: TimeWords,
  ms: number,
  houseZone: string,
  readerZone?: string,
): { readonly there: string; readonly city: string } | null {
  if (dayAndTime(ms, readerZone) === dayAndTime(ms, houseZone)) return null;
  const isSameDay = shortDay(ms, readerZone) === shortDay(ms, houseZone);
  return {
    there: isSameDay ? timeOfDay(ms, houseZone) : dayAndTime(ms, houseZone),
    city: houseZone.split('/').at(-1)!.replaceAll('_', ' '),
  };
}

/** `1 h 05`, `18 min`, `42 s`. */
export function duration(ms: number): string {
  const seconds = Math.max(0, Math.round(ms / 1000));
  if (seconds < 60) return `${seconds} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
}

const two = (value: number): string => String(value).padStart(2, '0');

/** `0:12`: hours and minutes, where seconds would only disturb. */
export function hoursAndMinutes(ms: number): string {
  const minutes = Math.max(0, Math.floor(ms / MINUTE_MS));
  return `${Math.floor(minutes / 60)}:${two(minutes % 60)}`;
}

/** `0:12:47`, for console clocks; tabular. */
export const clock = (ms: number): string =>
  `${hoursAndMinutes(ms)}:${two(Math.max(0, Math.floor(ms / 1000)) % 60)}`;

/** How long until something: a console clock within the day, days and hours beyond. */
export function clockOrDays(ms: number): string {
  const hours = Math.floor(ms / HOUR_MS);
  if (hours < 24) return clock(ms);
  const days = Math.floor(hours / 24);
  return `${days} ${days === 1 ? 'day' : 'days'} ${hours % 24} h`;
}

/** For a public countdown: days, hours, minutes, and seconds only in the last minute. */
export function countdown(ms: number): {
  readonly count: number;
  readonly unit: 'seconds' | 'minutes' | 'hours' | 'days';
} {
  if (ms < MINUTE_MS) return { count: Math.max(0, Math.ceil(ms / 1000)), unit: 'seconds' };
  if (ms < 2 * HOUR_MS) return { count: Math.ceil(ms / MINUTE_MS), unit: 'minutes' };
  if (ms < 48 * HOUR_MS) return { count: Math.floor(ms / HOUR_MS), unit: 'hours' };
  return { count: Math.floor(ms / (24 * HOUR_MS)), unit: 'days' };
}
