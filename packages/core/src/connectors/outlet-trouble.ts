import type { Audience } from './connector-facts.js';

/** What is known ahead of time of an outlet that an event is posted at. */
export interface OutletStanding {
  /** The consent is good for nothing any more. */
  readonly hasEnded: boolean;
  readonly consentEndsAtMs: number;
  /** The platform names it, and the consent covers it. */
  readonly isThere: boolean;
  /** Groups have to let us in first. */
  readonly hasLetIn: boolean;
  /** Who will see the posting. */
  readonly audience: Audience;
}

/** The heaviest first: these keep an event from being posted, or from being seen to its end. */
export const OUTLET_TROUBLES = [
  'consent-ended',
  'not-there',
  'not-let-in',
  'consent-ends',
  'only-me',
] as const;
export type OutletTrouble = (typeof OUTLET_TROUBLES)[number];

/**
 * What will go wrong at an outlet unless somebody does something; `null` where all is well.
 * @param untilMs - when the event is over at the latest
 */
export function outletTrouble(outlet: OutletStanding, untilMs: number): OutletTrouble | null {
  if (outlet.hasEnded) return 'consent-ended';
  if (!outlet.isThere) return 'not-there';
  if (!outlet.hasLetIn) return 'not-let-in';
  if (outlet.consentEndsAtMs < untilMs) return 'consent-ends';
  return outlet.audience === 'only-me' ? 'only-me' : null;
}

/** Which of two is to be told first. */
export const heavierTrouble = (one: OutletTrouble, other: OutletTrouble): number =>
  OUTLET_TROUBLES.indexOf(one) - OUTLET_TROUBLES.indexOf(other);
