import type { Audience } from '@heliphon/core/connectors/connector-facts';
import type { PostingEnding, PostingKnown } from '@heliphon/core/connectors/posting-step';
import type { PostingWords } from '@heliphon/core/connectors/posting-words';

/** Why a posting is not as it should be. */
export type PostingTrouble =
  | 'consent-ended'
  | 'token-expired'
  | 'not-granted'
  | 'not-let-in'
  | 'unknown'
  | 'busy'
  | 'out-of-order'
  | 'not-understood';

/** An outlet that an event or a series goes to, and what is said there. */
export interface OutletWordsView {
  readonly destinationId: string;
  /** Of the outlet. */
  readonly name: string;
  readonly platform: string;
  /** Nobody beyond it sees what the account posts. */
  readonly mostAudience: Audience;
  readonly titleLength: number;
  readonly textLength: number;
  /** What differs there from what is said everywhere. */
  readonly words: PostingWords;
}

/** An event as it is posted at an outlet. */
export interface PostingView extends OutletWordsView {
  /** When it is posted; `null`: as soon as it is planned. */
  readonly postsAtMs: number | null;
  /** `null` while it is not there. */
  readonly state: PostingKnown['state'] | null;
  /** Why it is over; `null` while it is not. */
  readonly endedBecause: PostingEnding | null;
  /** How long the platform lets one last at most; `null`: as long as it likes. */
  readonly longestMs: number | null;
  /** How many watch it there; `null` where that is not known. */
  readonly viewers: number | null;
  readonly audience: Audience;
  /** Where people see it. */
  readonly link: string | null;
  readonly trouble: PostingTrouble | null;
  /** When it is tried again; `null` where nothing is the matter. */
  readonly nextTryAtMs: number | null;
}

/** What somebody said under a posting; read only here. */
export interface PostingCommentView {
  readonly id: string;
  readonly destinationId: string;
  readonly author: string;
  readonly text: string;
  readonly atMs: number;
}
