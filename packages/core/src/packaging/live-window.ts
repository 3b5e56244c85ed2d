import { CUTTING, type PackagerOutput, type Part, type Segment } from './packager.js';
import { USUAL_PART_RULE } from './part-rule.js';

/** What a playlist has to say of one part. */
export type ListedPart = Omit<Part, 'bytes'>;

export interface ListedSegment {
  readonly segment: Segment;
  /** Empty once the segment has left the part window. */
  readonly parts: readonly ListedPart[];
}

export interface BegunSegment {
  readonly sequence: number;
  readonly programmeMs: number;
  readonly initNumber: number;
  readonly discontinuity: boolean;
  readonly parts: readonly ListedPart[];
}

/** Everything a live playlist is made of; a new value for every part. */
export interface LiveWindow {
  readonly segments: readonly ListedSegment[];
  /** Discontinuities that have slid out of the window. */
  readonly droppedDiscontinuities: number;
  readonly begun: BegunSegment | null;
  /** `null` while nothing more is promised: the encoder is away, or the programme over. */
  readonly nextPart: number | null;
  readonly ended: boolean;
  readonly partTargetSeconds: number;
}

export const EMPTY_WINDOW: LiveWindow = {
  segments: [],
  droppedDiscontinuities: 0,
  begun: null,
  nextPart: null,
  ended: false,
  partTargetSeconds: USUAL_PART_RULE.targetSeconds,
};

/** How far back parts are listed: three target durations (RFC 8216bis, 6.2.2). */
const PART_WINDOW_SECONDS = 3 * CUTTING.targetDurationSeconds;
/** A window is never shorter than what players hold back. */
const MIN_WINDOW_SEGMENTS = 6;

/** Moves the window on by one output of the packager. */
export function advanceWindow(
  window: LiveWindow,
  output: PackagerOutput,
  rewindWindowMs: number,
): LiveWindow {
  switch (output.type) {
    case 'init':
      return window;
    case 'part-rule':
      return { ...window, partTargetSeconds: output.rule.targetSeconds };
    case 'segment-begun': {
      const { sequence, programmeMs, initNumber, discontinuity } = output;
      return { ...window, begun: { sequence, programmeMs, initNumber, discontinuity, parts: [] } };
    }
    case 'part': {
      const { bytes: _, ...part } = output.part;
      const begun = window.begun && { ...window.begun, parts: [...window.begun.parts, part] };
      return { ...window, begun, nextPart: part.number + 1 };
    }
    case 'segment': {
      const listed = { segment: output.segment, parts: window.begun?.parts ?? [] };
      return slide({ ...window, segments: [...window.segments, listed], begun: null }, rewindWindowMs);
    }
    case 'hint-withdrawn':
      return { ...window, nextPart: null };
  }
}

export const endWindow = (window: LiveWindow): LiveWindow => ({
  ...window,
  nextPart: null,
  begun: null,
  ended: true,
});

/** Rebuilds the window of a programme from its kept segments, after the node was away. */
export function windowFromSegments(
  segments: readonly Segment[],
  rewindWindowMs: number,
  partTargetSeconds = USUAL_PART_RULE.targetSeconds,
): LiveWindow {
  return slide(
    { ...EMPTY_WINDOW, partTargetSeconds, segments: segments.map((segment) => ({ segment, parts: [] })) },
    rewindWindowMs,
  );
}

/** The window of another rendition that begins with a segment: empty, with what the original has counted before that. */
export function windowSince(original: LiveWindow, fromSequence: number): LiveWindow {
  const before = original.segments.filter(
    ({ segment }) => segment.sequence < fromSequence && segment.discontinuity,
  );
  return {
    ...EMPTY_WINDOW,
    partTargetSeconds: original.partTargetSeconds,
    droppedDiscontinuities: original.droppedDiscontinuities + before.length,
  };
}

function slide(window: LiveWindow, rewindWindowMs: number): LiveWindow {
  const { segments } = window;
  let keptSeconds = 0;
  let first = segments.length;
  while (
    first > 0 &&
    (keptSeconds * 1000 < rewindWindowMs || segments.length - first < MIN_WINDOW_SEGMENTS)
  ) {
    first -= 1;
    keptSeconds += segments[first]!.segment.durationSeconds;
  }
  // What is offered first can be begun with: between two far keyframes players would wait for nothing.
  while (first > 0 && segments[first]?.segment.independent === false) first -= 1;
  const dropped = segments.slice(0, first).filter((listed) => listed.segment.discontinuity).length;
  const kept = segments.slice(first);
  let behindSeconds = 0;
  for (let index = kept.length - 1; index >= 0; index -= 1) {
    behindSeconds += kept[index]!.segment.durationSeconds;
    if (behindSeconds <= PART_WINDOW_SECONDS) continue;
    if (kept[index]!.parts.length === 0) break;
    kept[index] = { segment: kept[index]!.segment, parts: [] };
  }
  return { ...window, segments: kept, droppedDiscontinuities: window.droppedDiscontinuities + dropped };
}

/** The part of a window that a grant may see: from the segment containing `fromMs` on, or the next that can be begun with. */
export function windowFrom(window: LiveWindow, fromMs: number): LiveWindow {
  const endOf = ({ segment }: ListedSegment): number => segment.programmeMs + segment.durationSeconds * 1000;
  const first = window.segments.findIndex(
    (listed) => endOf(listed) > fromMs && listed.segment.independent !== false,
  );
  const hidden = first < 0 ? window.segments : window.segments.slice(0, first);
  if (hidden.length === 0) return window;
  return {
    ...window,
    segments: first < 0 ? [] : window.segments.slice(first),
    droppedDiscontinuities:
      window.droppedDiscontinuities + hidden.filter((listed) => listed.segment.discontinuity).length,
  };
}

/** True when the playlist already holds what a blocking reload asks for (RFC 8216bis, 6.2.5.2). */
export function hasPosition(window: LiveWindow, sequence: number, part: number | null): boolean {
  if (window.ended) return true;
  const last = window.segments.at(-1)?.segment.sequence ?? -1;
  if (sequence <= last) return true;
  if (!window.begun || part === null) return false;
  return sequence === window.begun.sequence && part < window.begun.parts.length;
}

/**
 * True when a reload asks for more than two segments, or three seconds of parts, ahead of the edge: the answer is 400
 * (RFC 8216bis, 6.2.5.2).
 */
export function isTooFarAhead(window: LiveWindow, sequence: number, part: number | null): boolean {
  const next = window.begun?.sequence ?? (window.segments.at(-1)?.segment.sequence ?? -1) + 1;
  if (sequence > next + 1) return true;
  if (part === null || sequence < next) return false;
  const advanceLimit = Math.ceil(3 / window.partTargetSeconds);
  const listed = sequence === next ? (window.begun?.parts.length ?? 0) : 0;
  return part >= listed + advanceLimit;
}
