/** How a language writes days: the names, and what stands where. */
export interface CalendarWords {
  /** From Sunday on. */
  readonly weekdays: NamesOfLength;
  /** From January on, as they stand beside a day. */
  readonly months: NamesOfLength;
  /** `{weekday} {day} {month}`, and `{day} {month}` alone. */
  readonly order: { readonly long: string; readonly short: string; readonly month: string };
}
interface NamesOfLength {
  readonly long: readonly string[];
  readonly short: readonly string[];
}

const DAY_MS = 86_400_000;
const UNKNOWN_TO_INTL = 'en-GB';

/** What `Intl` knows a language by; English for one that it does not know. */
export const knownTag = (tag: string): string =>
  Intl.DateTimeFormat.supportedLocalesOf(tag)[0] ?? UNKNOWN_TO_INTL;

/**
 * Taken from `Intl` (CLDR) where that has every language, for browsers that have a few: Chromium writes no Welsh.
 * @param tag - as BCP 47 writes it
 */
export function calendarWords(tag: string): CalendarWords {
  const known = knownTag(tag);
  const partsOf = (ms: number, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormatPart[] =>
    new Intl.DateTimeFormat(known, { ...options, timeZone: 'UTC', calendar: 'gregory' }).formatToParts(ms);
  const of = (length: 'long' | 'short') => ({ weekday: length, day: 'numeric', month: length }) as const;
  const named = (ms: number, length: 'long' | 'short', part: 'weekday' | 'month'): string =>
    partsOf(ms, of(length)).find(({ type }) => type === part)?.value ?? '';
  const names = (part: 'weekday' | 'month', instants: readonly number[]): NamesOfLength => ({
    long: instants.map((ms) => named(ms, 'long', part)),
    short: instants.map((ms) => named(ms, 'short', part)),
  });
  const order = (options: Intl.DateTimeFormatOptions): string =>
    partsOf(0, options)
      .map(({ type, value }) => (type === 'literal' ? value : `{${type}}`))
      .join('')
      // A comma between the day and its date would only be one more beside the time.
      .replace(',', '');
  // 1970 began on a Thursday.
  const sundayMs = 3 * DAY_MS;
  return {
    weekdays: names(
      'weekday',
      Array.from({ length: 7 }, (_, index) => sundayMs + index * DAY_MS),
    ),
    months: names(
      'month',
      Array.from({ length: 12 }, (_, index) => Date.UTC(1970, index, 15)),
    ),
    order: {
      long: order(of('long')),
      short: order(of('short')),
      month: order({ day: 'numeric', month: 'short' }),
    },
  };
}
