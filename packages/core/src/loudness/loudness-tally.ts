import { type HistogramState, LoudnessHistogram, toLufs } from './loudness-histogram.js';
import type { HeardBlock } from './loudness-meter.js';

/** How loud a programme was as a whole. `null` where nothing was heard. */
export interface WholeLoudness {
  readonly integratedLufs: number | null;
  /** Loudness range after EBU Tech 3342. */
  readonly rangeLu: number | null;
  readonly truePeakDbtp: number | null;
}

export interface TallyState {
  readonly momentary: HistogramState;
  readonly shortTerm: HistogramState;
  readonly peak: number;
}

/** BS.1770-5, annex 1. */
const INTEGRATED_GATE_LU = -10;
/** EBU Tech 3342. */
const RANGE_GATE_LU = -20;
const RANGE = { low: 0.1, high: 0.95 } as const;

const rounded = (value: number): number => Math.round(value * 10) / 10;

/** Adds up what was heard of a programme, over however many connections of its sources. */
export class LoudnessTally {
  readonly #momentary: LoudnessHistogram;
  readonly #shortTerm: LoudnessHistogram;
  #peak: number;

  /** @param state - as it was written down before; `null` at the beginning. */
  constructor(state: TallyState | null = null) {
    this.#momentary = LoudnessHistogram.from(state?.momentary ?? []);
    this.#shortTerm = LoudnessHistogram.from(state?.shortTerm ?? []);
    this.#peak = state?.peak ?? 0;
  }

  take({ momentary, shortTerm, peak }: HeardBlock): void {
    if (momentary !== null) this.#momentary.add(momentary);
    if (shortTerm !== null) this.#shortTerm.add(shortTerm);
    this.#peak = Math.max(this.#peak, peak);
  }

  get state(): TallyState {
    return { momentary: this.#momentary.state, shortTerm: this.#shortTerm.state, peak: this.#peak };
  }

  report(): WholeLoudness {
    const mean = this.#momentary.gatedMean(INTEGRATED_GATE_LU);
    const low = this.#shortTerm.percentile(RANGE.low, RANGE_GATE_LU);
    const high = this.#shortTerm.percentile(RANGE.high, RANGE_GATE_LU);
    return {
      integratedLufs: mean === null ? null : rounded(toLufs(mean)),
      rangeLu: low === null || high === null ? null : rounded(high - low),
      truePeakDbtp: this.#peak > 0 ? rounded(20 * Math.log10(this.#peak)) : null,
    };
  }
}
