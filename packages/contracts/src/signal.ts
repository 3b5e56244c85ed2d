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
}
