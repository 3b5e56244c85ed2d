import type { Audience, OutletKind } from '@heliphon/core/connectors/connector-facts';

/** A platform at which accounts can be linked. */
export interface PlatformView {
  readonly kind: string;
  readonly name: string;
}

/** Somebody's account at a platform, by whose consent we post; its tokens never come back. */
export interface AccountView {
  readonly id: string;
  readonly platform: string;
  /** As people know the platform; `null` where this installation does not know it any more. */
  readonly platformName: string | null;
  readonly name: string;
  /** Nothing posted is seen by more people; `null`: it is chosen per posting. */
  readonly audience: Audience | null;
  readonly consentEndsAtMs: number;
  /** Since when the consent is good for nothing; `null` while it is good. */
  readonly endedAtMs: number | null;
  /** How many outlets the consent covers, and which of them are used here. */
  readonly outletCount: number;
  readonly chosen: readonly OutletView[];
}

/** Where an account may post: a wall, a page, a group, a channel. */
export interface OutletView {
  readonly id: string;
  readonly name: string;
  readonly kind: OutletKind;
  readonly isChosen: boolean;
  /** Groups have to let us in first. */
  readonly hasLetIn: boolean;
  /** False once the platform does not name it any more, or the consent does not cover it. */
  readonly isThere: boolean;
}

/** @property accountId - one that is linked already, which keeps its outlets */
export interface BeginLink {
  readonly platform: string;
  readonly accountId?: string;
}

/** Where a person's browser goes to give the consent. */
export interface ConsentAddress {
  readonly address: string;
}

/** @property answer - the query with which the browser came back */
export interface FinishLink {
  readonly platform: string;
  readonly answer: string;
}

/** What goes to the outlets of an account, and would no longer if it were unlinked. */
export interface AccountUses {
  /** The next of them. */
  readonly events: readonly { readonly id: string; readonly title: string; readonly startsAtMs: number }[];
  readonly eventCount: number;
  readonly series: readonly { readonly id: string; readonly title: string }[];
  /** That stand over there, and have not begun. */
  readonly postingCount: number;
}

/** @property postings - what becomes of those that stand over there and have not begun */
export interface Unlink {
  readonly postings: 'take-down' | 'leave';
}

/** @property named - a part of the name */
export interface OutletsQuery {
  readonly named?: string;
}

export interface ChooseOutlet {
  readonly isChosen: boolean;
}
