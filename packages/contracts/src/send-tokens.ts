import type { EventState } from '@heliphon/core/schedule/event-life';
import type { ResolvedLook } from '@heliphon/core/appearance/palette';
import type { PublicHouse } from './house.js';
import type { PointWay } from './nodes.js';

/** By which a browser of the house sends to a source, or measures its upload. */
export interface SendToken {
  /** Where it may send to; first the one chosen for the source. */
  readonly points: readonly PointWay[];
  /** A secret. */
  readonly token: string;
  readonly untilMs: number;
}

export interface AddGuestLink {
  readonly eventId: string;
  /** Who is invited. */
  readonly name: string;
}

export interface GuestLink {
  readonly id: string;
  readonly sourceId: string;
  readonly event: { readonly id: string; readonly title: string };
  readonly name: string;
  /** A secret: anyone who has it first can send. */
  readonly url: string;
  readonly state: 'waiting' | 'opened' | 'over' | 'withdrawn';
  readonly createdAtMs: number;
  readonly claimedAtMs: number | null;
}

/** What a guest's own page shows. */
export interface GuestView {
  readonly serverNowMs: number;
  readonly name: string;
  readonly house: PublicHouse;
  readonly look: ResolvedLook;
  readonly event: {
    readonly slug: string;
    readonly title: string;
    readonly state: EventState;
    readonly startsAtMs: number;
    readonly zone: string;
  };
  /** Where to send to; first the one chosen for the source. */
  readonly points: readonly PointWay[];
  /** Whether viewers have this guest's picture now. */
  readonly isShown: boolean;
}

export const GUEST_LIMITS = { nameLength: 60, guestsOfEvent: 20 } as const;
