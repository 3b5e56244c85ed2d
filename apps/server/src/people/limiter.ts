import { type Bucket, type BucketRule, isFull, takeToken } from '@heliphon/core/access/token-bucket';

import { ProblemError } from '../platform/problems.js';

const MAX_KEYS = 50_000;

/** Buckets by key, in memory; a full one is forgotten. */
export class Limiter {
  readonly #buckets = new Map<string, Bucket>();

  constructor(private readonly rule: BucketRule) {}

  /** Takes a token. @returns 0, or how long to wait in ms. */
  take(key: string, nowMs: number): number {
    const answer = takeToken(this.rule, this.#buckets.get(key), nowMs);
    if (!answer.allowed) return answer.waitMs;
    this.#buckets.delete(key);
    this.#buckets.set(key, answer.bucket);
    if (this.#buckets.size > MAX_KEYS) this.#forgetFull(nowMs);
    return 0;
  }

  /** Takes a token. @throws ProblemError 429 with the wait, in the sentence and in `Retry-After`. */
  require(key: string, code: string): void {
    const waitMs = this.take(key, Date.now());
    if (waitMs === 0) return;
    const seconds = Math.ceil(waitMs / 1000);
    throw new ProblemError(429, code, { seconds, waitMs }, { retryAfterSeconds: seconds });
  }

  /** Gives somebody a full bucket again. */
  forget(key: string): void {
    this.#buckets.delete(key);
  }

  #forgetFull(nowMs: number): void {
    for (const [key, bucket] of this.#buckets)
      if (isFull(this.rule, bucket, nowMs)) this.#buckets.delete(key);
  }
}
