import { decodeMs, type Frame, isPicture } from './frame.js';
import { CLOCK_SLIP_MS, CLOCK_STEP_MS } from './timeline.js';
import type { Tracks } from './track.js';

/** Pictures have to come in time for so long before what went away is back. */
const PROOF_MS = 300;
/** While it is seen whether it stays, it may stop for no longer than this. */
const PROOF_PATIENCE_MS = 1000;
/** Pictures that run ahead of the clock by more are what a source had saved up. */
const RUSH_MS = 500;
/** What comes back so often within a minute has to prove itself for longer. */
const FLUTTER = { returns: 5, withinMs: 60_000, proofMs: 3000 } as const;

/** Whether what feeds a programme is there. All times are on one monotone clock. */
export type Presence =
  /** Chosen just now: it begins with its first keyframe. */
  | { readonly is: 'awaited'; readonly sinceMs: number }
  | { readonly is: 'here'; readonly lastAtMs: number; readonly lastSourceMs: number }
  /** `steadySinceMs`: pictures have been coming since then, but are not shown yet; `null` while none come. */
  | { readonly is: 'away'; readonly steadySinceMs: number | null; readonly lastAtMs: number }
  /** It sends again; what came since its keyframe is held, to see whether it stays. */
  | {
      readonly is: 'proving';
      readonly keyframeAtMs: number;
      readonly keyframeSourceMs: number;
      readonly lastAtMs: number;
    };

export interface Continuity {
  readonly presence: Presence;
  /** When it came back of late. */
  readonly returnsAtMs: readonly number[];
}

export type ContinuityEvent =
  /** Something else feeds the programme from now on. */
  | { readonly type: 'chosen'; readonly atMs: number }
  | {
      readonly type: 'picture';
      readonly atMs: number;
      readonly sourceMs: number;
      readonly isKeyframe: boolean;
    }
  /** Its connection is closed, or there is none. */
  | { readonly type: 'closed'; readonly atMs: number }
  | { readonly type: 'clock'; readonly atMs: number };

export const NOT_THERE: Continuity = {
  presence: { is: 'away', steadySinceMs: null, lastAtMs: 0 },
  returnsAtMs: [],
};

/**
 * Notices that what feeds a programme has gone, and when it may be shown again: it is away once no picture has come for
 * `awayAfterMs`, or its connection is closed; it is back at a keyframe that pictures in time have followed for 300 ms, so
 * that nothing flutters and nothing saved up is shown late.
 */
export function nextContinuity(
  continuity: Continuity,
  event: ContinuityEvent,
  awayAfterMs: number,
): Continuity {
  const { atMs } = event;
  switch (event.type) {
    case 'chosen':
      return { ...continuity, presence: { is: 'awaited', sinceMs: atMs } };
    case 'closed':
      return { ...continuity, presence: awayAt(atMs) };
    case 'clock':
      return isOverdue(continuity.presence, atMs, awayAfterMs)
        ? { ...continuity, presence: awayAt(atMs) }
        : continuity;
    case 'picture':
      return afterPicture(continuity, event, awayAfterMs);
  }
}

export const isAway = ({ presence }: Continuity): boolean => presence.is === 'away';

/** What to do with a frame: show it, hold it, drop what is held and hold it, show what is held and then it, or drop it. */
export type FrameVerdict = 'show' | 'hold' | 'hold-from-here' | 'release' | 'pass-over';

/** @param before - how it stood before the frame came; `after`: what the frame made of it. */
export function verdictOf(before: Presence, after: Presence, isPictureFrame: boolean): FrameVerdict {
  if (after.is === 'here') return before.is === 'proving' ? 'release' : 'show';
  if (after.is !== 'proving') return 'pass-over';
  const isNewStart = before.is !== 'proving' || before.keyframeAtMs !== after.keyframeAtMs;
  return isPictureFrame && isNewStart ? 'hold-from-here' : 'hold';
}

/** Whether a frame counts as a picture: where a source has none, its sound does. */
export const countsAsPicture = (frame: Frame, tracks: Tracks): boolean =>
  isPicture(frame) || tracks.video === null;

/** The event that a frame is, `null` for sound beside a picture. */
export const eventOf = (frame: Frame, tracks: Tracks, atMs: number): ContinuityEvent | null =>
  countsAsPicture(frame, tracks)
    ? { type: 'picture', atMs, sourceMs: decodeMs(frame), isKeyframe: frame.isKeyframe }
    : null;

const awayAt = (atMs: number): Presence => ({ is: 'away', steadySinceMs: null, lastAtMs: atMs });

function isOverdue(presence: Presence, atMs: number, awayAfterMs: number): boolean {
  switch (presence.is) {
    case 'awaited':
      return atMs - presence.sinceMs >= awayAfterMs;
    case 'here':
      return atMs - presence.lastAtMs >= awayAfterMs;
    case 'proving':
      return atMs - presence.lastAtMs >= PROOF_PATIENCE_MS;
    case 'away':
      return false;
  }
}

type PictureEvent = Extract<ContinuityEvent, { type: 'picture' }>;

function afterPicture(continuity: Continuity, event: PictureEvent, awayAfterMs: number): Continuity {
  const { presence } = continuity;
  // Nobody may have asked the clock since it went.
  if (isOverdue(presence, event.atMs, awayAfterMs))
    return afterPicture({ ...continuity, presence: awayAt(event.atMs) }, event, awayAfterMs);
  switch (presence.is) {
    case 'awaited':
      return event.isKeyframe ? { ...continuity, presence: hereAt(event) } : continuity;
    case 'here': {
      const stepMs = event.sourceMs - presence.lastSourceMs;
      const hasJumped = stepMs < -CLOCK_SLIP_MS || stepMs > CLOCK_STEP_MS;
      return {
        ...continuity,
        presence: hasJumped && !event.isKeyframe ? { is: 'awaited', sinceMs: event.atMs } : hereAt(event),
      };
    }
    case 'away':
      return { ...continuity, presence: afterAway(continuity, presence, event, awayAfterMs) };
    case 'proving':
      return afterProving(continuity, presence, event);
  }
}

function afterAway(
  { returnsAtMs }: Continuity,
  away: Extract<Presence, { is: 'away' }>,
  event: PictureEvent,
  awayAfterMs: number,
): Presence {
  const isSteady = away.steadySinceMs !== null && event.atMs - away.lastAtMs < awayAfterMs;
  const steadySinceMs = isSteady ? away.steadySinceMs! : event.atMs;
  const isFluttering = recent(returnsAtMs, event.atMs).length >= FLUTTER.returns;
  const waitMs = isFluttering ? FLUTTER.proofMs - PROOF_MS : 0;
  return event.isKeyframe && event.atMs - steadySinceMs >= waitMs
    ? provingFrom(event)
    : { is: 'away', steadySinceMs, lastAtMs: event.atMs };
}

function afterProving(
  continuity: Continuity,
  proving: Extract<Presence, { is: 'proving' }>,
  event: PictureEvent,
): Continuity {
  const aheadMs = event.sourceMs - proving.keyframeSourceMs - (event.atMs - proving.keyframeAtMs);
  const isInTime = aheadMs <= RUSH_MS && event.sourceMs >= proving.keyframeSourceMs;
  if (!isInTime) {
    const { atMs } = event;
    const away: Presence = { is: 'away', steadySinceMs: proving.keyframeAtMs, lastAtMs: atMs };
    return { ...continuity, presence: event.isKeyframe ? provingFrom(event) : away };
  }
  if (event.atMs - proving.keyframeAtMs < PROOF_MS)
    return { ...continuity, presence: { ...proving, lastAtMs: event.atMs } };
  return {
    presence: hereAt(event),
    returnsAtMs: [...recent(continuity.returnsAtMs, event.atMs), event.atMs],
  };
}

const hereAt = ({ atMs, sourceMs }: PictureEvent): Presence => ({
  is: 'here',
  lastAtMs: atMs,
  lastSourceMs: sourceMs,
});

const provingFrom = ({ atMs, sourceMs }: PictureEvent): Presence => ({
  is: 'proving',
  keyframeAtMs: atMs,
  keyframeSourceMs: sourceMs,
  lastAtMs: atMs,
});

const recent = (returnsAtMs: readonly number[], nowMs: number): readonly number[] =>
  returnsAtMs.filter((atMs) => nowMs - atMs < FLUTTER.withinMs);
