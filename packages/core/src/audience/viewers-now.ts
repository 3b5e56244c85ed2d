/** Who watches a programme now: a random value a player sends, and when it was last heard. No address is kept. */
export class ViewersNow {
  readonly #lastSeenMs = new Map<string, number>();
  static readonly windowMs = 15_000;
  /** Players that send no value count as one together. */
  static readonly foreign = '';
  /** Bounds the memory a flood of made-up values can take. */
  static readonly maxTracked = 200_000;

  saw(viewer: string | null, nowMs: number): void {
    const key = viewer === null || !isViewerValue(viewer) ? ViewersNow.foreign : viewer;
    this.#lastSeenMs.delete(key);
    this.#lastSeenMs.set(key, nowMs);
    if (this.#lastSeenMs.size > ViewersNow.maxTracked)
      this.#lastSeenMs.delete(this.#lastSeenMs.keys().next().value!);
  }

  /** How many were heard in the last 15 s. Forgets the others. */
  count(nowMs: number): number {
    // Insertion order is order of time, so the stale ones stand first.
    for (const [key, seenMs] of this.#lastSeenMs) {
      if (nowMs - seenMs <= ViewersNow.windowMs) break;
      this.#lastSeenMs.delete(key);
    }
    return this.#lastSeenMs.size;
  }
}

const isViewerValue = (value: string): boolean => /^[A-Za-z0-9_-]{8,32}$/.test(value);
