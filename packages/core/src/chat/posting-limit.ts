/** A short burst, then one message every few seconds (a token bucket). */
export const POSTING_LIMIT = { burst: 5, everyMs: 6000 } as const;

/** How full a person's bucket was, and when. */
export interface PostingAllowance {
  readonly tokens: number;
  readonly atMs: number;
}

export const FULL_ALLOWANCE: PostingAllowance = { tokens: POSTING_LIMIT.burst, atMs: 0 };

export type PostingAnswer =
  | { readonly allowed: true; readonly allowance: PostingAllowance }
  | { readonly allowed: false; readonly waitMs: number };

/** Asks for one message at `nowMs`. */
export function askToPost(allowance: PostingAllowance, nowMs: number): PostingAnswer {
  const gained = Math.max(0, nowMs - allowance.atMs) / POSTING_LIMIT.everyMs;
  const tokens = Math.min(POSTING_LIMIT.burst, allowance.tokens + gained);
  if (tokens < 1) return { allowed: false, waitMs: Math.ceil((1 - tokens) * POSTING_LIMIT.everyMs) };
  return { allowed: true, allowance: { tokens: tokens - 1, atMs: nowMs } };
}
