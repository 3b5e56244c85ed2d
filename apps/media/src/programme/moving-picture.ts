import type { SignalState } from '@heliphon/core/control/observations';
import type { SignalKnowledge } from '@heliphon/core/schedule/event-life';
import type { Clock } from '../clock.js';

/** Whether viewers of a programme have a moving picture, since when, and when the last frame came. */
export class MovingPicture {
  #lastFrameAtMonotonicMs: number | null = null;
  /** In UTC ms, from before this process; `null` where nobody knows. */
  #knownAtMs: number | null = null;
  #sinceMs: number | null = null;
  #isPresent = false;

  constructor(private readonly clock: Clock) {}

  /** The last frame that anybody knows of came then: silence is counted from there, no matter what restarts meanwhile. */
  takeUp(atMs: number): void {
    this.#knownAtMs = atMs;
  }

  frameCame(): void {
    this.#lastFrameAtMonotonicMs = this.clock.monotonicMs();
  }

  become(isPresent: boolean): void {
    if (this.#isPresent === isPresent && this.#sinceMs !== null) return;
    this.#isPresent = isPresent;
    this.#sinceMs = this.clock.nowMs();
  }

  /** How long no frame has come. */
  get silentMs(): number {
    return this.clock.monotonicMs() - (this.#lastFrameAtMonotonicMs ?? 0);
  }

  get state(): SignalState {
    return { present: this.#isPresent, sinceMs: this.#sinceMs };
  }

  /** In UTC ms; `null` where nobody knows. */
  get lastFrameAtMs(): number | null {
    return this.#lastFrameAtMonotonicMs === null ? this.#knownAtMs : this.clock.nowMs() - this.silentMs;
  }

  get knowledge(): Extract<SignalKnowledge, { known: true }> {
    return { known: true, present: this.#isPresent, lastFrameAtMs: this.lastFrameAtMs };
  }
}
