import { Injectable } from '@nestjs/common';
import { type Bucket, type BucketRule, isFull, takeToken } from '@heliphon/core/access/token-bucket';
import { ProblemError } from '../problems.js';

/**
 * Token buckets by kind and key, for all servers of an installation. In memory while there is one server; every
 * question is a promise, so that several can ask one place.
 */
export abstract class Buckets {
  /** Takes a token. @returns 0, or how long to wait in ms. */
  abstract take(kind: string, key: string, rule: BucketRule, nowMs: number): Promise<number>;
  /** Gives back one token that was taken. */
  abstract giveBack(kind: string, key: string): Promise<void>;
  /** Gives somebody a full bucket again. */
  abstract forget(kind: string, key: string): Promise<void>;
}

const MAX_KEYS = 50_000;

interface Held {
  readonly rule: BucketRule;
  readonly bucket: Bucket;
}

/** A full bucket is forgotten. */
@Injectable()
export class BucketsInMemory extends Buckets {
  readonly #held = new Map<string, Held>();

  override take(kind: string, key: string, rule: BucketRule, nowMs: number): Promise<number> {
    const name = `${kind} ${key}`;
    const answer = takeToken(rule, this.#held.get(name)?.bucket, nowMs);
    if (!answer.allowed) return Promise.resolve(answer.waitMs);
    this.#held.set(name, { rule, bucket: answer.bucket });
    if (this.#held.size > MAX_KEYS) this.#forgetFull(nowMs);
    return Promise.resolve(0);
  }

  override giveBack(kind: string, key: string): Promise<void> {
    const name = `${kind} ${key}`;
    const held = this.#held.get(name);
    if (held) {
      const bucket = { ...held.bucket, tokens: held.bucket.tokens + 1 };
      this.#held.set(name, { ...held, bucket });
    }
    return Promise.resolve();
  }

  override forget(kind: string, key: string): Promise<void> {
    this.#held.delete(`${kind} ${key}`);
    return Promise.resolve();
  }

  #forgetFull(nowMs: number): void {
    for (const [name, { rule, bucket }] of this.#held)
      if (isFull(rule, bucket, nowMs)) this.#held.delete(name);
  }
}

/** One kind of limit. */
export class Limiter {
  constructor(
    private readonly buckets: Buckets,
    private readonly kind: string,
    private readonly rule: BucketRule,
  ) {}

  /** Takes a token. @throws ProblemError 429 with the wait, in the sentence and in `Retry-After`. */
  async require(key: string, code: string): Promise<void> {
    const waitMs = await this.buckets.take(this.kind, key, this.rule, Date.now());
    if (waitMs === 0) return;
    const seconds = Math.ceil(waitMs / 1000);
    throw new ProblemError(429, code, { seconds, waitMs }, { retryAfterSeconds: seconds });
  }

  giveBack(key: string): Promise<void> {
    return this.buckets.giveBack(this.kind, key);
  }

  forget(key: string): Promise<void> {
    return this.buckets.forget(this.kind, key);
  }
}
