import type { Missed } from './missed.js';
import type { Speed } from './speed.js';

/** What is to be played; `replay` is the same event once it has ended. */
export interface PlayerSource {
  readonly kind: 'live' | 'replay';
  /** The original by itself. */
  readonly hls: string;
  /** All sizes there are, where there are some. */
  readonly main?: string | undefined;
}

/** The address of the sound alone. */
export const soundOf = ({ hls }: PlayerSource): string => hls.replace(/[^/]*$/, 'sound/$&');

/** Something that begins at an instant of the programme. */
export interface PlayerChapter {
  readonly atMs: number;
  readonly title: string;
}

export interface PlayerState {
  readonly status: 'loading' | 'playing' | 'paused' | 'waiting' | 'ended' | 'blocked';
  readonly kind: 'live' | 'replay';
  readonly positionSeconds: number;
  readonly startSeconds: number;
  readonly endSeconds: number;
  /** Behind the live edge beyond what a player needs; 0 for a replay. */
  readonly lateSeconds: number;
  /** The instant of the programme that is seen; `null` while nobody knows. */
  readonly dateMs: number | null;
  readonly isMuted: boolean;
  readonly volume: number;
  /** The browser let us start only without sound. */
  readonly wantsSound: boolean;
  /** Heights of the renditions there are, largest first; one alone needs no choice. */
  readonly heightsPx: readonly number[];
  /** The one that was chosen; `null`: whichever fits. */
  readonly chosenHeightPx: number | null;
  /** There are picture and sound, so that the picture could be left out. */
  readonly canBeSoundOnly: boolean;
  /** The picture is left out, to spare a weak line. */
  readonly isSoundOnly: boolean;
  /** How fast it is seen; what is live has its own pace. */
  readonly speed: Speed;
  /** What was missed of what is live; `null` once that has been read, and for nothing. */
  readonly missed: Missed | null;
  /** Captions: there are none, or they are off or on. */
  readonly captions: 'none' | 'off' | 'on';
}

/** Whom a player tells. */
export interface PlayerEvents {
  changed(state: PlayerState): void;
  /** The address has run out: ask for another. */
  denied(): void;
}

export const isSameState = (one: PlayerState, other: PlayerState): boolean =>
  (Object.keys(one) as (keyof PlayerState)[]).every((key) => one[key] === other[key]);

export const INITIAL_STATE: PlayerState = {
  status: 'loading',
  kind: 'live',
  positionSeconds: 0,
  startSeconds: 0,
  endSeconds: 0,
  lateSeconds: 0,
  dateMs: null,
  isMuted: false,
  volume: 1,
  wantsSound: false,
  heightsPx: [],
  chosenHeightPx: null,
  canBeSoundOnly: false,
  isSoundOnly: false,
  speed: 1,
  missed: null,
  captions: 'none',
};
