import type { Audience } from './connector-facts.js';

/** What is said of an event where it is posted. */
export interface PostingText {
  readonly title: string;
  readonly text: string;
  readonly startsAtMs: number;
  readonly audience: Audience;
  /** Of its poster; `null` for none. */
  readonly pictureId: string | null;
}

/** Why a posting ended: we ended it, or somebody did over there; it was without a picture for too long; it lasted too long. */
export type PostingEnding = 'sender' | 'no-picture' | 'too-long';

/** What is known of a posting that was made. */
export interface PostingKnown {
  readonly state: 'planned' | 'open' | 'ended';
  /** `null` while it has not. */
  readonly endedBecause: PostingEnding | null;
  /** What the platform was told last. */
  readonly told: PostingText;
}

/** How an event stands to its postings: too early for them, time for them, on, over, or not to be. */
export type PostingStage = 'early' | 'ahead' | 'on' | 'over' | 'called-off';

export type PostingStep = 'post' | 'change' | 'picture' | 'begin' | 'look' | 'end' | 'take-down' | 'again';

interface PostingFacts {
  readonly stage: PostingStage;
  readonly wanted: PostingText;
  /** `null` while none was made. */
  readonly known: PostingKnown | null;
  /** The platform wants it started before its picture comes. */
  readonly needsStart: boolean;
  /** What is known of it was asked a moment ago: platforms begin and end postings by themselves. */
  readonly isFresh: boolean;
  /** Somebody wants to go on in a new posting where this one has ended. */
  readonly isAskedAgain: boolean;
  /** Nothing is sent there for now. */
  readonly isPaused: boolean;
  /** It was only tried out: nothing of it stays there. */
  readonly isTrial: boolean;
  /** Which posting of this event it is there, from 1. */
  readonly part: number;
}

/** So often a new posting is made by itself; a platform that goes on ending them is a person's to look at. */
const MOST_PARTS_BY_ITSELF = 4;

/** The one next thing that makes a posting what it should be; `null` where it is that. */
export function nextPostingStep({
  stage,
  wanted,
  known,
  needsStart,
  isFresh,
  ...on
}: PostingFacts): PostingStep | null {
  const isTime = stage === 'ahead' || stage === 'on';
  if (!known) return isTime ? 'post' : null;
  if (known.state === 'ended') {
    if (stage === 'on') return goesOn(known, on) ? 'again' : null;
    return on.isTrial ? 'take-down' : null;
  }
  if (stage === 'over' || stage === 'called-off') {
    // One that people have seen is ended, and stays.
    if (!isFresh) return 'look';
    return known.state === 'open' ? 'end' : 'take-down';
  }
  // The picture waits for it.
  if (stage === 'on' && needsStart && known.state === 'planned') return 'begin';
  const { told } = known;
  const isTold =
    told.title === wanted.title &&
    told.text === wanted.text &&
    told.startsAtMs === wanted.startsAtMs &&
    told.audience === wanted.audience;
  if (!isTold) return 'change';
  // A picture that was taken away stays over there: platforms have no way of being without one again.
  if (wanted.pictureId !== null && wanted.pictureId !== told.pictureId) return 'picture';
  return (stage === 'on' || stage === 'ahead') && !isFresh ? 'look' : null;
}

/** A picture that was missed for too long is back; what somebody ended, or its length did, is not gone against by itself. */
const goesOn = (
  { endedBecause }: PostingKnown,
  {
    isAskedAgain,
    isPaused,
    isTrial,
    part,
  }: Pick<PostingFacts, 'isAskedAgain' | 'isPaused' | 'isTrial' | 'part'>,
): boolean =>
  !isPaused && !isTrial && (isAskedAgain || (endedBecause === 'no-picture' && part < MOST_PARTS_BY_ITSELF));
