import type { Segment } from './packager.js';

/** A stretch of a programme by the clock on the wall, in ms since 1970 (UTC). */
export interface ClipRange {
  readonly fromUtcMs: number;
  readonly toUtcMs: number;
}

/** How much of what has just been shown can be saved, in seconds. */
export const CLIP_SECONDS = { least: 10, usual: 30, most: 300 } as const;

/**
 * The segments that a clip is made of: whole ones, so that it begins a little earlier than asked for, at a keyframe.
 * @param segments - of the programme, in order; a slate among them stays one.
 * @returns none where nothing but slates lies in the range.
 */
export function segmentsOfClip<T extends Segment & { readonly utcMs: number }>(
  segments: readonly T[],
  { fromUtcMs, toUtcMs }: ClipRange,
): readonly T[] {
  let first = segments.findIndex(({ utcMs, durationSeconds }) => utcMs + durationSeconds * 1000 > fromUtcMs);
  if (first < 0) return [];
  while (first > 0 && segments[first]!.independent === false) first -= 1;
  const chosen = segments.slice(first).filter(({ utcMs }) => utcMs < toUtcMs);
  return chosen.some(({ isSlate }) => !isSlate) ? chosen : [];
}
