/** A stretch of a live event that somebody at its edge has not seen: their device slept, or their line was away. */
export interface Missed {
  /** From which instant of the programme on. */
  readonly fromMs: number;
  readonly lengthMs: number;
}

/** The page's clock stood still for so long: the device slept. */
export const SLEPT_MS = 5000;
/** A picture that waits so long has lost its line. */
const WAITS_MS = 6000;
/** Less is no loss. */
const LEAST_SECONDS = 10;
/** By then a playlist has been fetched again, and it is known how much was missed. */
const KNOWN_WITHIN_MS = 15_000;

/** How a live picture stands just now. */
export interface LiveSigns {
  readonly nowMs: number;
  /** They see the newest there is, and have not paused. */
  readonly isAtEdge: boolean;
  readonly isWaiting: boolean;
  /** What was seen last; `null` while nothing was. */
  readonly seenMs: number | null;
  readonly behindSeconds: number;
}

/** Notices that a viewer has missed something. Somebody who went back on purpose has not. */
export class MissedWatch {
  #waiting: { readonly sinceMs: number; readonly wasAtEdge: boolean } | null = null;
  #from: { readonly seenMs: number; readonly untilMs: number } | null = null;
  #last: LiveSigns | null = null;

  /**
   * Called several times a second, as long as the device does not sleep.
   * @returns what was missed, once that is known: then it is time to go to now
   */
  look(signs: LiveSigns): Missed | null {
    const { nowMs, isAtEdge, isWaiting, seenMs, behindSeconds } = signs;
    const before = this.#last;
    this.#last = signs;
    if (before?.isAtEdge && before.seenMs !== null && nowMs - before.nowMs > SLEPT_MS)
      this.#from ??= { seenMs: before.seenMs, untilMs: nowMs + KNOWN_WITHIN_MS };
    this.#waiting = isWaiting ? (this.#waiting ?? { sinceMs: nowMs, wasAtEdge: isAtEdge }) : null;
    if (this.#waiting?.wasAtEdge && nowMs - this.#waiting.sinceMs > WAITS_MS && seenMs !== null)
      this.#from = { seenMs: this.#from?.seenMs ?? seenMs, untilMs: nowMs + KNOWN_WITHIN_MS };
    if (!this.#from) return null;
    if (behindSeconds < LEAST_SECONDS) {
      if (nowMs > this.#from.untilMs) this.#from = null;
      return null;
    }
    const missed = { fromMs: this.#from.seenMs, lengthMs: behindSeconds * 1000 };
    this.#from = null;
    return missed;
  }
}
