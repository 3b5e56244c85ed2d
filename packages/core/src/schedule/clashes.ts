/** What is needed to see whether two events want one source, or one place, at once. */
export interface Booking {
  readonly eventId: string;
  /** Its own, and the one that stands by. */
  readonly sourceIds: readonly string[];
  readonly placeIds: readonly string[];
  /** From its doors on. */
  readonly fromMs: number;
  readonly toMs: number;
}

/** What two events both want. */
export type Wanted = { readonly over: 'source' } | { readonly over: 'place'; readonly placeId: string };

export type Clash<T> = { readonly other: T } & Wanted;

/** What two bookings both want, whenever they want it; the source before a place. */
export function wantedByBoth(a: Booking, b: Booking): Wanted | null {
  if (a.sourceIds.some((id) => b.sourceIds.includes(id))) return { over: 'source' };
  const placeId = a.placeIds.find((id) => b.placeIds.includes(id));
  return placeId === undefined ? null : { over: 'place', placeId };
}

/** The bookings that want the same while `booking` does, earliest first. Touching ends do not clash. */
export function findClashes<T extends Booking>(booking: Booking, others: readonly T[]): Clash<T>[] {
  return others
    .filter((other) => other.eventId !== booking.eventId && overlap(booking, other))
    .sort((a, b) => a.fromMs - b.fromMs)
    .flatMap((other) => {
      const wanted = wantedByBoth(booking, other);
      return wanted ? [{ other, ...wanted }] : [];
    });
}

/** A stretch of time. */
export interface Span {
  readonly fromMs: number;
  readonly toMs: number;
}

/**
 * The same time in as few spans as there can be, in order.
 * @param gapMs - spans that lie no farther apart are one, with the time between them
 */
export function mergeSpans(spans: readonly Span[], gapMs = 0): Span[] {
  const merged: Span[] = [];
  for (const span of [...spans].sort((a, b) => a.fromMs - b.fromMs)) {
    const last = merged.at(-1);
    if (last && span.fromMs <= last.toMs + gapMs)
      merged[merged.length - 1] = { fromMs: last.fromMs, toMs: Math.max(last.toMs, span.toMs) };
    else merged.push(span);
  }
  return merged;
}

/** Spans by their beginnings: those at a time are found without looking at all of them. */
export interface SpanIndex<T extends Span> {
  readonly spans: readonly T[];
  readonly longestMs: number;
}

export const indexSpans = <T extends Span>(spans: readonly T[]): SpanIndex<T> => ({
  spans: [...spans].sort((a, b) => a.fromMs - b.fromMs),
  longestMs: spans.reduce((longest, { fromMs, toMs }) => Math.max(longest, toMs - fromMs), 0),
});

/** Those that overlap a span, earliest first. Touching ends do not. */
export function spansDuring<T extends Span>({ spans, longestMs }: SpanIndex<T>, during: Span): T[] {
  let [first, after] = [0, spans.length];
  while (first < after) {
    const middle = (first + after) >> 1;
    if (spans[middle]!.fromMs <= during.fromMs - longestMs) first = middle + 1;
    else after = middle;
  }
  const found: T[] = [];
  for (let nth = first; nth < spans.length && spans[nth]!.fromMs < during.toMs; nth += 1)
    if (overlap(spans[nth]!, during)) found.push(spans[nth]!);
  return found;
}

const overlap = (a: Span, b: Span): boolean => a.fromMs < b.toMs && b.fromMs < a.toMs;

/** A printed plan knows quarters of an hour. */
const STEP_MS = 15 * 60_000;

/**
 * The nearest times at which a booking would clash with nothing: before where it is, and after.
 * @param nowMs - nothing is moved into the past.
 * @param farthestMs - how far it may be moved.
 * @returns by how much to move it, earlier first.
 */
export function nearestFreeMoves(
  booking: Booking,
  others: readonly Booking[],
  nowMs: number,
  farthestMs: number,
): number[] {
  const rivals = others.filter(
    (other) => other.eventId !== booking.eventId && wantedByBoth(booking, other) !== null,
  );
  const isFree = (byMs: number): boolean => {
    const moved = { fromMs: booking.fromMs + byMs, toMs: booking.toMs + byMs };
    return moved.fromMs > nowMs && !rivals.some((other) => overlap(moved, other));
  };
  // Free it becomes only next to a rival: touching its end, or its beginning.
  const nearest = (candidates: readonly number[]): number[] =>
    candidates
      .filter((byMs) => byMs !== 0 && Math.abs(byMs) <= farthestMs && isFree(byMs))
      .sort((a, b) => Math.abs(a) - Math.abs(b))
      .slice(0, 1);
  const earlier = rivals.map(({ fromMs }) => Math.floor((fromMs - booking.toMs) / STEP_MS) * STEP_MS);
  const later = rivals.map(({ toMs }) => Math.ceil((toMs - booking.fromMs) / STEP_MS) * STEP_MS);
  return [...nearest(earlier.filter((byMs) => byMs < 0)), ...nearest(later.filter((byMs) => byMs > 0))];
}
