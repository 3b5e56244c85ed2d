import { Temporal } from 'temporal-polyfill';

/**
 * The days of a month as they are printed: whole weeks from Monday to Sunday.
 * @param instantMs - within the month.
 * @returns midnights, by the clock on the wall of the zone.
 */
export function monthDays(instantMs: number, zone: string): number[] {
  const day = Temporal.Instant.fromEpochMilliseconds(instantMs).toZonedDateTimeISO(zone).toPlainDate();
  const first = day.with({ day: 1 });
  const last = day.with({ day: day.daysInMonth });
  const from = first.subtract({ days: first.dayOfWeek - 1 });
  const to = last.add({ days: 7 - last.dayOfWeek });
  const count = from.until(to).days + 1;
  return Array.from(
    { length: count },
    (_, at) => from.add({ days: at }).toZonedDateTime(zone).epochMilliseconds,
  );
}
