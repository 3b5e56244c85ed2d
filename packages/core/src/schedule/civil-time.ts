import { Temporal } from 'temporal-polyfill';
import { type Result, refuse, succeed } from '../result.js';

export type CivilTimeRefusal =
  | { readonly code: 'no-such-zone' }
  | { readonly code: 'malformed' }
  /** The clocks go forward over it; `nextLocal` is the first time that exists again. */
  | { readonly code: 'does-not-exist'; readonly nextLocal: string };

/**
 * The instant of a local date and time, `2026-03-07T10:30`, in an IANA zone. Of a time that comes twice, the first.
 * @returns UTC ms, or why there is none.
 */
export function instantOf(local: string, zone: string): Result<number, CivilTimeRefusal> {
  if (!isZone(zone)) return refuse({ code: 'no-such-zone' });
  let plain: Temporal.PlainDateTime;
  try {
    plain = Temporal.PlainDateTime.from(local);
  } catch {
    return refuse({ code: 'malformed' });
  }
  const instant = plain.toZonedDateTime(zone, { disambiguation: 'earlier' });
  if (!instant.toPlainDateTime().equals(plain)) {
    const after = plain.toZonedDateTime(zone, { disambiguation: 'later' });
    const change = instant.getTimeZoneTransition('next') ?? after;
    return refuse({ code: 'does-not-exist', nextLocal: localText(change.toPlainDateTime()) });
  }
  return succeed(instant.epochMilliseconds);
}

/** The local date and time of an instant, `2026-03-07T10:30`. */
export function localOf(instantMs: number, zone: string): string {
  return localText(
    Temporal.Instant.fromEpochMilliseconds(instantMs).toZonedDateTimeISO(zone).toPlainDateTime(),
  );
}

/** True for a day there is, written `2026-03-07`. */
export function isDay(text: string): boolean {
  try {
    return Temporal.PlainDate.from(text, { overflow: 'reject' }).toString() === text;
  } catch {
    return false;
  }
}

export function isZone(zone: string): boolean {
  try {
    Temporal.Now.zonedDateTimeISO(zone);
    return true;
  } catch {
    return false;
  }
}

/** Midnight of the day that an instant falls on. */
export function startOfDay(instantMs: number, zone: string): number {
  return zoned(instantMs, zone).startOfDay().epochMilliseconds;
}

/** The same wall-clock time so many days on; across a change of clocks this is not a multiple of 24 h. */
export function addDays(instantMs: number, days: number, zone: string): number {
  return zoned(instantMs, zone).add({ days }).epochMilliseconds;
}

/** Hours since midnight by the clock on the wall, 0 to 24. */
export function hourOfDay(instantMs: number, zone: string): number {
  const at = zoned(instantMs, zone);
  return at.hour + at.minute / 60 + at.second / 3600;
}

const zoned = (instantMs: number, zone: string): Temporal.ZonedDateTime =>
  Temporal.Instant.fromEpochMilliseconds(instantMs).toZonedDateTimeISO(zone);

const localText = (plain: Temporal.PlainDateTime): string => plain.toString({ smallestUnit: 'minute' });
