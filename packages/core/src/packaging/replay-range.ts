import type { Segment } from './packager.js';

const endMs = (segment: Segment): number => segment.programmeMs + segment.durationSeconds * 1000;

/** True for a segment that lies at least partly between two moments of the programme's own time. */
export const isBetween = (segment: Segment, fromMs: number, toMs: number): boolean =>
  endMs(segment) > fromMs && segment.programmeMs < toMs;

/** The segments of a programme from `fromMs` to `toMs` of its own time, whole ones: a replay is a playlist. */
export function segmentsBetween<T extends Segment>(
  segments: readonly T[],
  fromMs: number,
  toMs: number,
): T[] {
  return segments.filter((segment) => isBetween(segment, fromMs, toMs));
}

/** Those that show what the event was, and not a slate in its place. */
export const withoutSlates = <T extends Segment>(segments: readonly T[]): T[] =>
  segments.filter(({ isSlate }) => !isSlate);

/** How long a list of segments plays, in ms: gaps without a picture take no time. */
export const playingMs = (segments: readonly Segment[]): number =>
  Math.round(segments.reduce((sum, segment) => sum + segment.durationSeconds * 1000, 0));

/** Finds a segment by its number, in a list in which numbers rise. */
export function findSegment<T extends Segment>(segments: readonly T[], sequence: number): T | undefined {
  let low = 0;
  let high = segments.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (segments[middle]!.sequence < sequence) low = middle + 1;
    else high = middle;
  }
  const found = segments[low];
  return found?.sequence === sequence ? found : undefined;
}
