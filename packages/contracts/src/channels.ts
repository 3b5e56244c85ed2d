import type { EventState } from '@heliphon/core/schedule/event-life';
import type { ResolvedLook } from '@heliphon/core/appearance/palette';
import type { PublicHouse } from './house.js';
import type { Page } from './problem.js';

/** A part of the house that has its own page: the chapel, the hall, the school. */
export interface ChannelView {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** `/channel/SLUG` is its page; `/watch/SLUG` and `/embed/SLUG` always show what is on, was just on, or comes next. */
  readonly slug: string;
  readonly description: string;
}

export interface AddChannel {
  readonly name: string;
  readonly description: string;
}

export type EditChannel = Partial<AddChannel & Pick<ChannelView, 'slug'>>;

export const CHANNEL_LIMITS = { nameLength: 60, descriptionLength: 2000, most: 50 } as const;

/** An event on the page of its channel. */
export interface PublicGlance {
  readonly slug: string;
  readonly title: string;
  readonly state: EventState;
  readonly startsAtMs: number;
  readonly endsAtMs: number;
  readonly posterUrl: string | null;
}

/** What can be watched again. */
export interface PublicReplay {
  readonly slug: string;
  readonly title: string;
  readonly airAtMs: number;
  readonly durationMs: number;
  readonly posterUrl: string | null;
}

/** A channel's page: `GET /api/public/channels/:slug`. */
export interface PublicChannel {
  readonly slug: string;
  readonly name: string;
  readonly description: string;
  readonly serverNowMs: number;
  readonly house: PublicHouse;
  readonly look: ResolvedLook;
  /** With its doors open, or on air. */
  readonly present: readonly PublicGlance[];
  /** The next ones, soonest first. */
  readonly coming: readonly PublicGlance[];
  /** The first page of what can be watched again, latest first; more by `/replays?after=`. */
  readonly replays: Page<PublicReplay>;
}
