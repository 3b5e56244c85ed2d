import type { Audience, ConnectorFacts, OutletKind } from '@heliphon/core/connectors/connector-facts';
import type { PostingEnding } from '@heliphon/core/connectors/posting-step';
import type { Result } from '@heliphon/core/result';

/** Why a platform did not do what it was asked for. */
export type ConnectorRefusal =
  /** Denied, revoked or run out: the person has to be asked again. */
  | { readonly code: 'consent-ended' }
  /** The access token has run out: refresh it, and ask again. */
  | { readonly code: 'token-expired' }
  /** The consent does not cover this outlet. */
  | { readonly code: 'not-granted' }
  /** Those who keep the outlet have not let us in. */
  | { readonly code: 'not-let-in' }
  /** It is not there any more. */
  | { readonly code: 'unknown' }
  | { readonly code: 'busy'; readonly retryAfterMs: number }
  /** It does not answer, or only with errors. */
  | { readonly code: 'out-of-order' }
  /** Its own words, which are for the log. */
  | { readonly code: 'not-understood'; readonly said: string };

export type Answer<T> = Promise<Result<T, ConnectorRefusal>>;

/** What a person's browser is sent to a platform with, and has to come back with. */
export interface ConsentAsk {
  readonly state: string;
  /** PKCE (RFC 7636): stays here; the platform sees its hash. */
  readonly verifier: string;
  readonly redirectAddress: string;
}

/** Secrets: sealed as soon as they are here, shown to nobody. */
export interface Grant {
  readonly accessToken: string;
  readonly accessEndsAtMs: number;
  readonly refreshToken: string;
}

export interface AccountThere {
  readonly id: string;
  readonly name: string;
  /** Nothing posted is seen by more people; `null`: it is chosen per posting. */
  readonly audience: Audience | null;
  readonly consentEndsAtMs: number;
}

export interface OutletThere {
  readonly id: string;
  readonly kind: OutletKind;
  readonly name: string;
  /** Groups have to let us in first. */
  readonly hasLetIn: boolean;
}

export interface PostingWish {
  readonly outletId: string;
  /** Our own id of it: another wish by the same reference is the same posting. */
  readonly ref: string;
  readonly title: string;
  readonly text: string;
  readonly startsAtMs: number;
  readonly audience: Audience;
}

export interface PostingThere {
  readonly id: string;
  readonly outletId: string;
  readonly state: 'planned' | 'open' | 'ended';
  /** Why it ended; `null` while it has not. */
  readonly endedBecause: PostingEnding | null;
  readonly title: string;
  readonly text: string;
  readonly startsAtMs: number;
  readonly audience: Audience;
  /** Where people see it. */
  readonly link: string;
  /** The whole address for the picture, key included: a secret. */
  readonly ingestAddress: string;
}

export interface CommentThere {
  readonly id: string;
  readonly author: string;
  readonly text: string;
  readonly atMs: number;
}

/**
 * What a platform can be asked for. Every question has its time limit; a refusal is a value. Nothing is posted twice:
 * `post` with a reference that stands there already answers with what stands.
 */
export interface Connector {
  readonly kind: string;
  readonly facts: ConnectorFacts;
  /** Where a person says what we may do. */
  consentAddress(ask: ConsentAsk): Promise<string>;
  /** @param back - the address, query included, at which the person's browser came back */
  exchange(back: URL, ask: ConsentAsk): Answer<Grant>;
  refresh(refreshToken: string): Answer<Grant>;
  revoke(refreshToken: string): Answer<null>;
  account(accessToken: string): Answer<AccountThere>;
  /** All that were ticked off, however many. */
  outlets(accessToken: string): Answer<readonly OutletThere[]>;
  post(accessToken: string, wish: PostingWish): Answer<PostingThere>;
  /** Found again by our own reference, or `null`. */
  find(accessToken: string, wish: Pick<PostingWish, 'outletId' | 'ref'>): Answer<PostingThere | null>;
  look(accessToken: string, postingId: string): Answer<PostingThere>;
  change(accessToken: string, postingId: string, wish: PostingWish): Answer<PostingThere>;
  /** @param jpeg - instead of whatever picture it had */
  picture(accessToken: string, postingId: string, jpeg: Uint8Array): Answer<null>;
  takeDown(accessToken: string, postingId: string): Answer<null>;
  /** Where `facts.needsStart`; elsewhere it changes nothing. */
  begin(accessToken: string, postingId: string): Answer<PostingThere>;
  end(accessToken: string, postingId: string): Answer<PostingThere>;
  viewers(accessToken: string, postingId: string): Answer<number>;
  /** Those after one, the oldest first; none where `facts.hasComments` is false. */
  comments(accessToken: string, postingId: string, afterId: string | null): Answer<readonly CommentThere[]>;
}
