/** A burst, then one every so often. */
export interface BucketRule {
  readonly burst: number;
  readonly everyMs: number;
}

/** How full somebody's bucket was, and when. */
export interface Bucket {
  readonly tokens: number;
  readonly atMs: number;
}

export type BucketAnswer =
  { readonly allowed: true; readonly bucket: Bucket } | { readonly allowed: false; readonly waitMs: number };

/** Takes one token at `nowMs`; a bucket nobody has used yet is full. */
export function takeToken(rule: BucketRule, bucket: Bucket | undefined, nowMs: number): BucketAnswer {
  const gained = bucket ? Math.max(0, nowMs - bucket.atMs) / rule.everyMs : 0;
  const tokens = bucket ? Math.min(rule.burst, bucket.tokens + gained) : rule.burst;
  if (tokens < 1) return { allowed: false, waitMs: Math.ceil((1 - tokens) * rule.everyMs) };
  return { allowed: true, bucket: { tokens: tokens - 1, atMs: nowMs } };
}

/** True once a bucket is full again and need not be remembered. */
export const isFull = (rule: BucketRule, bucket: Bucket, nowMs: number): boolean =>
  bucket.tokens + (nowMs - bucket.atMs) / rule.everyMs >= rule.burst;

/** Chat: five quick ones, then one every six seconds. */
export const POSTING_RULE: BucketRule = { burst: 5, everyMs: 6000 };
/** Wrong sign-ins: from one address to one account, to one account from anywhere, and from one address to any account. */
export const SIGN_IN_RULES = {
  pair: { burst: 10, everyMs: 60_000 },
  account: { burst: 30, everyMs: 60_000 },
  address: { burst: 40, everyMs: 15_000 },
} as const satisfies Record<string, BucketRule>;
/** Wrong keys and passwords of encoders, from one address. */
export const TRYING_RULE: BucketRule = { burst: 20, everyMs: 6000 };
/** Letters that somebody may have sent: invitations of a house, lost passwords from an address or to one. */
export const INVITING_RULE: BucketRule = { burst: 20, everyMs: 60_000 };
/** Passwords to watch: from one address, where a hall full of people may sit behind one router, and from anywhere. */
export const WATCH_PASSWORD_RULES = {
  address: { burst: 20, everyMs: 15_000 },
  anywhere: { burst: 300, everyMs: 2000 },
} as const satisfies Record<string, BucketRule>;
/** Codes of a second factor: five tries, then one every half minute. */
export const CODE_RULE: BucketRule = { burst: 5, everyMs: 30_000 };
/** Opening guests' links, from one address: a few guests in one room, each asking every few seconds. */
export const OPENING_RULE: BucketRule = { burst: 60, everyMs: 500 };
/** Boxes that ask for a code, from one address. */
export const PAIRING_RULE: BucketRule = { burst: 10, everyMs: 10_000 };
/** Joining a chat, from one address: a hall full of people behind one router passes. */
export const JOINING_RULE: BucketRule = { burst: 60, everyMs: 1000 };
