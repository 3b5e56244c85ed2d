/** Civil time is the system's plus the server's offset; durations are measured on a clock that never jumps. */
export class Clock {
  #offsetMs = 0;

  setOffset(offsetMs: number): void {
    this.#offsetMs = offsetMs;
  }

  nowMs(): number {
    return Date.now() + this.#offsetMs;
  }

  monotonicMs(): number {
    return performance.now();
  }
}
