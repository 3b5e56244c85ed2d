import type { Complaint, ViewerFinding } from '@heliphon/contracts/viewer-reports';

export interface CheckFacts {
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
export function judge(facts: CheckFacts, complaint: Complaint): ViewerFinding {
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

/** Whose fault it is. */
export const FINDING_SIDES: Readonly<Record<ViewerFinding, 'none' | 'us' | 'you'>> = {
  'not-started': 'none',
  cancelled: 'none',
  'no-connection': 'you',
  'no-picture': 'us',
  'picture-away': 'us',
  'media-away': 'us',
  muted: 'you',
  'device-silent': 'you',
  'sound-only': 'you',
  slow: 'you',
  paused: 'you',
  fine: 'none',
};
