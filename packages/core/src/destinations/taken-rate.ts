/** How far back a rate looks: over a keyframe or two. */
const WINDOW_MS = 5000;

interface Look {
  readonly atMs: number;
  readonly bytes: number;
}

/** The rate of a count of bytes that is looked at now and then, about once a second. */
export class TakenRate {
  #looks: Look[] = [];

  /**
   * @param bytes - the count now; a smaller one than before means a new connection
   * @returns bits a second over the last five seconds; 0 until there was time to tell
   */
  of(bytes: number, nowMs: number): number {
    const last = this.#looks.at(-1);
    if (last && bytes < last.bytes) this.#looks = [];
    // The newest that is old enough stays, so that the window is whole.
    while (this.#looks.length > 1 && nowMs - this.#looks[1]!.atMs >= WINDOW_MS) this.#looks.shift();
    this.#looks.push({ atMs: nowMs, bytes });
    const first = this.#looks[0]!;
    const passedMs = nowMs - first.atMs;
    return passedMs > 0 ? Math.round(((bytes - first.bytes) * 8000) / passedMs) : 0;
  }
}
