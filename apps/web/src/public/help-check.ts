/** What explains a missing picture or sound. */
export type Finding =
  | 'not-started'
  | 'cancelled'
  | 'no-connection'
  | 'no-picture'
  | 'picture-away'
  | 'media-away'
  | 'muted'
  | 'device-silent'
  | 'sound-only'
  | 'slow'
  | 'paused'
  | 'fine';

interface CheckFacts {
  /** The house says that no picture is coming in. */
  readonly isPictureAway: boolean;
  readonly state: 'planned' | 'doors' | 'air' | 'kept' | 'cancelled';
  /** The picture's address answered within a few seconds; `null` where there is nothing to play. */
  readonly didMediaAnswer: boolean | null;
  readonly didServerAnswer: boolean;
  /** Bits per second with which the picture came; `null` where that was not measured. */
  readonly downloadBps: number | null;
  readonly isMuted: boolean;
  readonly volume: number;
  readonly isPlaying: boolean;
  /** The viewer left the picture out. */
  readonly isSoundOnly: boolean;
}

/** A picture of 720p with sound needs about this. */
const NEEDED_BPS = 3_500_000;

/** The first thing that explains it, from what was found. */
export function judge(facts: CheckFacts, complaint: 'picture' | 'sound'): Finding {
  if (facts.state === 'planned' || facts.state === 'doors') return 'not-started';
  if (facts.state === 'cancelled') return 'cancelled';
  if (!facts.didServerAnswer && facts.didMediaAnswer !== true) return 'no-connection';
  if (facts.didMediaAnswer === null) return 'no-picture';
  if (facts.isPictureAway) return 'picture-away';
  if (!facts.didMediaAnswer) return 'media-away';
  if (complaint === 'sound') return facts.isMuted || facts.volume === 0 ? 'muted' : 'device-silent';
  if (facts.isSoundOnly) return 'sound-only';
  if (facts.downloadBps !== null && facts.downloadBps < NEEDED_BPS) return 'slow';
  return facts.isPlaying ? 'fine' : 'paused';
}
