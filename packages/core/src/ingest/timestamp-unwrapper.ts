/**
 * Turns the 32-bit millisecond time stamps of RTMP, which begin again after 49.7 days and which some encoders start
 * just before that edge, into times that run on. A stamp is read as the one nearest to the last: up to 24.8 days
 * ahead or back, so that a clock that jumps is still seen to jump.
 */
export class TimestampUnwrapper {
  #lastMs: number | null = null;

  /** @param stampMs - 0 … 2³² − 1, of picture or sound: they share one clock. */
  unwrap(stampMs: number): number {
    this.#lastMs = this.#lastMs === null ? stampMs : this.#lastMs + ((stampMs - this.#lastMs) | 0);
    return this.#lastMs;
  }
}
