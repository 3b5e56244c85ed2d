import type { Segment } from './packager.js';

const endMs = (segment: Segment): number => segment.programmeMs + segment.durationSeconds * 1000;

/** The segments of a programme from `fromMs` to `toMs` of its own time, whole ones: a replay is a playlist. */
export function segmentsBetween(segments: readonly Segment[], fromMs: number, toMs: number): Segment[] {
  return segments.filter((segment) => endMs(segment) > fromMs && segment.programmeMs < toMs);
}

/** How long a list of segments plays, in ms: gaps without a picture take no time. */
export const playingMs = (segments: readonly Segment[]): number =>
  Math.round(segments.reduce((sum, segment) => sum + segment.durationSeconds * 1000, 0));
