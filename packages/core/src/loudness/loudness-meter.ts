import { KWeighting, LOUDNESS_SAMPLE_RATE_HZ } from './k-weighting.js';
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
  /** How long nothing above −60 LUFS has been heard, in ms. */
  readonly silentMs: number;
}

const BLOCK_SAMPLES = LOUDNESS_SAMPLE_RATE_HZ / 10;
const BLOCK_MS = 100;
const MOMENTARY_BLOCKS = 4;
const SHORT_TERM_BLOCKS = 30;
/** What is quieter is not heard in a hall. */
const SILENCE_LUFS = -60;
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;

const toLufs = (meanSquare: number): number => -0.691 + 10 * Math.log10(meanSquare);
const round = (value: number): number => Math.round(value * 100) / 100;
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
  readonly #gated = new GatedMean();
  #silentMs = 0;

  constructor(private readonly channels: 1 | 2) {
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
    const peak = Math.max(...this.#peaks.map(({ peak: value }) => value));
    return {
      momentaryLufs: this.#over(MOMENTARY_BLOCKS),
      shortTermLufs: this.#over(SHORT_TERM_BLOCKS),
      integratedLufs: this.#gated.lufs(),
      truePeakDbtp: peak > 0 ? round(20 * Math.log10(peak)) : null,
      silentMs: this.#silentMs,
    };
  }

  #closeBlock(): void {
    this.#filled = 0;
    let meanSquare = 0;
    for (let channel = 0; channel < this.channels; channel += 1) {
      meanSquare += this.#weightings[channel]!.meanSquare(this.#block, channel, this.channels);
      this.#peaks[channel]!.push(this.#block, channel, this.channels);
    }
    this.#blocks = [...this.#blocks.slice(1 - SHORT_TERM_BLOCKS), meanSquare];
    if (this.#blocks.length >= MOMENTARY_BLOCKS)
      this.#gated.add(meanOf(this.#blocks.slice(-MOMENTARY_BLOCKS)));
    this.#silentMs = toLufs(meanSquare) > SILENCE_LUFS ? 0 : this.#silentMs + BLOCK_MS;
  }

  #over(blocks: number): number | null {
    return this.#blocks.length < blocks ? null : lufsOrNull(meanOf(this.#blocks.slice(-blocks)));
  }
}

const meanOf = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;

/** The gated mean of BS.1770-5, annex 1, 5.4: blocks sorted into steps of a tenth of a LU, so that hours take no memory. */
class GatedMean {
  readonly #counts = new Float64Array(STEPS);
  readonly #sums = new Float64Array(STEPS);

  add(meanSquare: number): void {
    const lufs = toLufs(meanSquare);
    if (lufs < ABSOLUTE_GATE_LUFS) return;
    const step = Math.min(STEPS - 1, Math.floor((lufs - ABSOLUTE_GATE_LUFS) * STEPS_PER_LU));
    this.#counts[step]! += 1;
    this.#sums[step]! += meanSquare;
  }

  lufs(): number | null {
    const all = this.#meanFrom(0);
    if (all === null) return null;
    const gate = toLufs(all) + RELATIVE_GATE_LU - ABSOLUTE_GATE_LUFS;
    const gated = this.#meanFrom(Math.max(0, Math.floor(gate * STEPS_PER_LU)));
    return gated === null ? null : lufsOrNull(gated);
  }

  #meanFrom(first: number): number | null {
    let count = 0;
    let sum = 0;
    for (let step = first; step < STEPS; step += 1) {
      count += this.#counts[step]!;
      sum += this.#sums[step]!;
    }
    return count === 0 ? null : sum / count;
  }
}

const STEPS_PER_LU = 10;
/** From −70 to +10 LUFS. */
const STEPS = 80 * STEPS_PER_LU;
