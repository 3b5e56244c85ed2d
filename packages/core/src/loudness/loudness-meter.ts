import { KWeighting, LOUDNESS_SAMPLE_RATE_HZ } from './k-weighting.js';
import { LoudnessHistogram, toLufs } from './loudness-histogram.js';
import { TruePeak } from './true-peak.js';

/** Loudness after EBU R 128 and its Tech 3341. `null` where there has not been enough sound, or none above the gate. */
export interface LoudnessReport {
  /** Over the last 400 ms. */
  readonly momentaryLufs: number | null;
  /** Over the last 3 s. */
  readonly shortTermLufs: number | null;
  /** Over everything since the source came, gated. */
  readonly integratedLufs: number | null;
  /** The highest peak between samples since the source came. */
  readonly truePeakDbtp: number | null;
  /** The highest of the last 3 to 6 s. */
  readonly recentPeakDbtp: number | null;
  /** How long nothing above −60 LUFS has been heard, in ms. */
  readonly silentMs: number;
}

/** A block of 100 ms, as mean squares over the stretch that ends with it; `null` until there has been so much. */
export interface HeardBlock {
  /** Over 400 ms. */
  readonly momentary: number | null;
  /** Over 3 s. */
  readonly shortTerm: number | null;
  /** The highest peak of about the last seconds, linear. */
  readonly peak: number;
}

const BLOCK_SAMPLES = LOUDNESS_SAMPLE_RATE_HZ / 10;
const BLOCK_MS = 100;
const MOMENTARY_BLOCKS = 4;
const SHORT_TERM_BLOCKS = 30;
/** What is quieter is not heard in a hall. */
const SILENCE_LUFS = -60;
const RELATIVE_GATE_LU = -10;

const round = (value: number): number => Math.round(value * 100) / 100;
const toDb = (value: number): number | null => (value > 0 ? round(20 * Math.log10(value)) : null);
const lufsOrNull = (meanSquare: number): number | null => {
  const lufs = toLufs(meanSquare);
  return Number.isFinite(lufs) && lufs > -120 ? round(lufs) : null;
};

/** Measures sound of one or two channels at 48 kHz as it comes, in constant memory (ITU-R BS.1770-5, EBU Tech 3341). */
export class LoudnessMeter {
  readonly #weightings: KWeighting[];
  readonly #peaks: TruePeak[];
  readonly #block: Float32Array;
  #filled = 0;
  /** Mean squares of the last blocks of 100 ms, newest last. */
  #blocks: number[] = [];
  readonly #gated = new LoudnessHistogram();
  /** The highest of the stretches of 3 s before the present one: of the last, and of all. */
  #lastPeak = 0;
  #highestPeak = 0;
  #peakBlocks = 0;
  #silentMs = 0;

  /** @param onBlock - hears of every block. */
  constructor(
    private readonly channels: 1 | 2,
    private readonly onBlock: (block: HeardBlock) => void = () => undefined,
  ) {
    this.#weightings = Array.from({ length: channels }, () => new KWeighting());
    this.#peaks = Array.from({ length: channels }, () => new TruePeak());
    this.#block = new Float32Array(BLOCK_SAMPLES * channels);
  }

  /** @param samples - interleaved, full scale is 1; any number of them. */
  push(samples: Float32Array): void {
    for (let at = 0; at < samples.length;) {
      const taken = Math.min(this.#block.length - this.#filled, samples.length - at);
      this.#block.set(samples.subarray(at, at + taken), this.#filled);
      this.#filled += taken;
      at += taken;
      if (this.#filled === this.#block.length) this.#closeBlock();
    }
  }

  report(): LoudnessReport {
    const peak = this.#peak;
    return {
      momentaryLufs: this.#over(MOMENTARY_BLOCKS),
      shortTermLufs: this.#over(SHORT_TERM_BLOCKS),
      integratedLufs: lufsOrNull(this.#gated.gatedMean(RELATIVE_GATE_LU) ?? 0),
      truePeakDbtp: toDb(Math.max(peak, this.#highestPeak)),
      recentPeakDbtp: toDb(Math.max(peak, this.#lastPeak)),
      silentMs: this.#silentMs,
    };
  }

  #closeBlock(): void {
    this.#filled = 0;
    if (this.#peakBlocks === SHORT_TERM_BLOCKS) this.#beginPeak();
    this.#peakBlocks += 1;
    let meanSquare = 0;
    for (let channel = 0; channel < this.channels; channel += 1) {
      meanSquare += this.#weightings[channel]!.meanSquare(this.#block, channel, this.channels);
      this.#peaks[channel]!.push(this.#block, channel, this.channels);
    }
    this.#blocks = [...this.#blocks.slice(1 - SHORT_TERM_BLOCKS), meanSquare];
    const momentary = this.#meanOver(MOMENTARY_BLOCKS);
    if (momentary !== null) this.#gated.add(momentary);
    this.onBlock({ momentary, shortTerm: this.#meanOver(SHORT_TERM_BLOCKS), peak: this.#peak });
    this.#silentMs = toLufs(meanSquare) > SILENCE_LUFS ? 0 : this.#silentMs + BLOCK_MS;
  }

  get #peak(): number {
    return Math.max(...this.#peaks.map(({ peak }) => peak));
  }

  #beginPeak(): void {
    this.#lastPeak = this.#peak;
    this.#highestPeak = Math.max(this.#highestPeak, this.#lastPeak);
    this.#peakBlocks = 0;
    for (const peak of this.#peaks) peak.begin();
  }

  #over(blocks: number): number | null {
    return lufsOrNull(this.#meanOver(blocks) ?? 0);
  }

  #meanOver(blocks: number): number | null {
    return this.#blocks.length < blocks ? null : meanOf(this.#blocks.slice(-blocks));
  }
}

const meanOf = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;
