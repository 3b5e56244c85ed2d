import type { GroundPicture } from '@heliphon/core/appearance/ground-picture';
import type { InheritedLook, OwnLook } from '@heliphon/core/appearance/look';
import type { Level } from '@heliphon/core/inherited';

/** What a look can be of, besides the house itself. */
export const LOOK_SUBJECTS = ['channel', 'series', 'event'] as const satisfies readonly Level[];
export type LookSubject = (typeof LOOK_SUBJECTS)[number];

/** The look of a house, a channel, a series or an event, as its people set it. */
export interface LookView {
  /** Of the house, channel, series or event. */
  readonly id: string;
  readonly level: Level;
  /** What it is the look of, in words. */
  readonly name: string;
  /** What is said here. */
  readonly own: OwnLook;
  /** What stands where nothing is said here. */
  readonly above: InheritedLook;
  /** Of what it is the look of. */
  readonly version: number;
  /** A page that has this look, to see it on. */
  readonly slug: string | null;
}

/** A logo that was taken: a look may name it from now on. */
export interface KeptLogo {
  readonly id: string;
}

/** A picture for behind the page that was taken: a look may have it from now on. */
export type KeptGround = Pick<GroundPicture, 'id' | 'spots'>;

/** Everything that is to be said here from now on. */
export interface SetLook {
  readonly own: OwnLook;
}
