import type { SignalState } from '@heliphon/core/control/observations';
import type { SignalKnowledge } from '@heliphon/core/schedule/event-life';
import type { Clock } from '../clock.js';

/** Whether viewers of a programme have a moving picture, since when, and when the last frame came. */
export class MovingPicture {
  #lastFrameAtMonotonicMs: number | null = null;
  #sinceMs: number | null = null;
  #isPresent = false;

  constructor(private readonly clock: Clock) {}

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

  get knowledge(): Extract<SignalKnowledge, { known: true }> {
    const lastFrameAtMs = this.#lastFrameAtMonotonicMs === null ? null : this.clock.nowMs() - this.silentMs;
    return { known: true, present: this.#isPresent, lastFrameAtMs };
  }
}
