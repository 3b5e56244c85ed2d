import type { ViewersHad } from '@heliphon/core/audience/viewers-have';

/** What a source sent at an instant. */
export interface SignalSample {
  readonly atMs: number;
  readonly bitrateBps: number;
  readonly frameRateFps: number;
  /** EBU R 128, over 3 s; `null` without sound. */
  readonly shortTermLufs: number | null;
}

export interface SignalView {
  readonly samples: readonly SignalSample[];
  /** From the doors to the end, or until now. */
  readonly viewersHad: readonly ViewersHad[];
}
