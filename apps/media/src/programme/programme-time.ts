import type { Clock } from '../clock.js';

/** A programme's own time, from its doors, by a clock that nobody sets. */
export class ProgrammeTime {
  /** Monotone time of programme time zero. */
  #beganAtMonotonicMs = 0;

  constructor(private readonly clock: Clock) {}

  /** @param startsAtUtcMs - civil instant of programme time zero. */
  anchor(startsAtUtcMs: number): void {
    this.#beganAtMonotonicMs = this.clock.monotonicMs() - (this.clock.nowMs() - startsAtUtcMs);
  }

  get nowMs(): number {
    return this.clock.monotonicMs() - this.#beganAtMonotonicMs;
  }

  /** Programme time of a civil instant, reckoned back from now, so that a corrected clock moves no picture. */
  at(civilMs: number): number {
    return Math.max(0, this.nowMs - (this.clock.nowMs() - civilMs));
  }
}
