const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;
const LOCALE = 'en-GB';

const formats = new Map<string, Intl.DateTimeFormat>();
function format(zone: string | undefined, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone} ${JSON.stringify(options)}`;
  const known = formats.get(key);
  if (known) return known;
  const made = new Intl.DateTimeFormat(LOCALE, { ...options, ...(zone ? { timeZone: zone } : {}) });
  formats.set(key, made);
  return made;
}

/** `10:30`. Without a zone, the reader's own. */
export const timeOfDay = (ms: number, zone?: string): string =>
  format(zone, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(ms);

/** `Sun 7 Mar`. */
export const shortDay = (ms: number, zone?: string): string =>
  format(zone, { weekday: 'short', day: 'numeric', month: 'short' }).format(ms).replace(',', '');

/** `Sunday 7 March`. */
export const longDay = (ms: number, zone?: string): string =>
  format(zone, { weekday: 'long', day: 'numeric', month: 'long' }).format(ms).replace(',', '');

/** `Sun 7`. */
export const dayName = (ms: number, zone?: string): string =>
  `${format(zone, { weekday: 'short' }).format(ms)} ${format(zone, { day: 'numeric' }).format(ms)}`;

/** `Sun 7 Mar, 10:30`. */
export const dayAndTime = (ms: number, zone?: string): string =>
  `${shortDay(ms, zone)}, ${timeOfDay(ms, zone)}`;

/** `1 h 05`, `18 min`, `42 s`. */
export function duration(ms: number): string {
  const seconds = Math.max(0, Math.round(ms / 1000));
  if (seconds < 60) return `${seconds} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
}

/** `0:12:47`, for console clocks; tabular. */
export function clock(ms: number): string {
  const seconds = Math.max(0, Math.floor(ms / 1000));
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
}

/** How long until something: a console clock within the day, days and hours beyond. */
export function clockOrDays(ms: number): string {
  const hours = Math.floor(ms / HOUR_MS);
  if (hours < 24) return clock(ms);
  const days = Math.floor(hours / 24);
  return `${days} ${days === 1 ? 'day' : 'days'} ${hours % 24} h`;
}

/** For a public countdown: days, hours, minutes, and seconds only in the last minute. */
export function countdown(ms: number): { figure: string; unit: string } {
  const count = (value: number, one: string): { figure: string; unit: string } => ({
    figure: String(value),
    unit: value === 1 ? one : `${one}s`,
  });
  if (ms < MINUTE_MS) return count(Math.max(0, Math.ceil(ms / 1000)), 'second');
  if (ms < 2 * HOUR_MS) return count(Math.ceil(ms / MINUTE_MS), 'minute');
  if (ms < 48 * HOUR_MS) return count(Math.floor(ms / HOUR_MS), 'hour');
  return count(Math.floor(ms / (24 * HOUR_MS)), 'day');
}
