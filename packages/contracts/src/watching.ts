import type { InheritedWatchRules, OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { Level } from '@heliphon/core/inherited';
import type { PublicEvent } from './public-event.js';

/** Who may watch what a house, a channel, a series or an event shows, as its people set it. */
export interface WatchingView {
  /** Of the house, channel, series or event. */
  readonly id: string;
  readonly level: Level;
  /** What it is of, in words. */
  readonly name: string;
  /** What is said here. */
  readonly own: OwnWatchRules;
  /** What stands where nothing is said here. */
  readonly above: InheritedWatchRules;
  readonly version: number;
  /** Where the password was set that opens it; `null` while there is none. */
  readonly passwordFrom: Level | null;
  /** How many people are invited here, and above. */
  readonly invited: number;
  readonly invitedAbove: number;
}

/** Everything that is to be said here from now on. */
export interface SetWatching {
  readonly own: OwnWatchRules;
}

/** The password that is told to viewers. */
export interface WatchPassword {
  readonly password: string;
}

/** Somebody who was invited to watch. */
export interface InvitedView {
  readonly id: string;
  readonly name: string;
  /** Empty where the link is handed over by other means. */
  readonly email: string;
  readonly devicesMost: number;
  readonly invitedAtMs: number;
  readonly lastCameAtMs: number | null;
  readonly withdrawnAtMs: number | null;
}

/** A list as somebody pasted it, or a file of comma-separated values. */
export interface InviteWish {
  readonly list: string;
  readonly devicesMost: number;
  readonly sendsLetters: boolean;
}

export interface InviteOutcome {
  readonly added: number;
  /** Who was invited already, and stays so. */
  readonly alreadyThere: number;
  /** Lines that say nothing we can read, by their numbers from 1. */
  readonly unreadableLines: readonly number[];
}

/** What opens an event to somebody: its password, or an invitation of their own. */
export interface AdmitWish {
  readonly password?: string;
  readonly invitation?: string;
}

/** Shown with every question about the event from then on, in `Heliphon-Admission`. */
export interface Admitted {
  readonly token: string;
}

/** As whom a page can be seen. */
export interface SeenAs {
  /** ISO 3166-1 alpha-2; `null` where nobody knows. */
  readonly country: string | null;
  /** The website that shows it; `null` on its own page. */
  readonly site: string | null;
  readonly knowsPassword: boolean;
  readonly isInvited: boolean;
}

/** `null` where nothing is planned and nothing was: there is no page to see. */
export interface SeenAsView {
  readonly event: PublicEvent | null;
}
