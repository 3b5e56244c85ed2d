/** Loudness of a mean square of K-weighted samples (ITU-R BS.1770-5). */
export const toLufs = (meanSquare: number): number => -0.691 + 10 * Math.log10(meanSquare);

const ABSOLUTE_GATE_LUFS = -70;
const STEPS_PER_LU = 10;
/** From −70 to +10 LUFS. */
const STEPS = 80 * STEPS_PER_LU;

/** What a histogram holds, to be written down: steps that are not empty, with how many blocks and what they sum up to. */
export type HistogramState = readonly (readonly [step: number, count: number, sum: number])[];

/** Blocks of sound above the absolute gate, sorted into steps of a tenth of a LU, so that hours take no memory. */
export class LoudnessHistogram {
  readonly #counts = new Float64Array(STEPS);
  readonly #sums = new Float64Array(STEPS);

  static from(state: HistogramState): LoudnessHistogram {
    const histogram = new LoudnessHistogram();
    for (const [step, count, sum] of state) {
      histogram.#counts[step] = count;
      histogram.#sums[step] = sum;
    }
    return histogram;
  }

  add(meanSquare: number): void {
    const lufs = toLufs(meanSquare);
    // NaN fails this too: silence has no loudness.
    if (!(lufs >= ABSOLUTE_GATE_LUFS)) return;
    const step = stepOf(lufs);
    this.#counts[step]! += 1;
    this.#sums[step]! += meanSquare;
  }

  /** The mean square of the blocks that are not further below the mean of all than `relativeLu`; `null` without any. */
  gatedMean(relativeLu: number): number | null {
    const all = this.#meanFrom(0);
    return all === null ? null : this.#meanFrom(stepOf(toLufs(all) + relativeLu));
  }

  /** The loudness that a share of the blocks above the relative gate does not reach; `null` without any. */
  percentile(share: number, relativeLu: number): number | null {
    const all = this.#meanFrom(0);
    if (all === null) return null;
    const first = stepOf(toLufs(all) + relativeLu);
    const total = this.#counts.subarray(first).reduce((sum, count) => sum + count, 0);
    let seen = 0;
    for (let step = first; step < STEPS; step += 1) {
      seen += this.#counts[step]!;
      if (seen >= share * total && seen > 0) return ABSOLUTE_GATE_LUFS + (step + 0.5) / STEPS_PER_LU;
    }
    return null;
  }

  get state(): HistogramState {
    return [...this.#counts.keys()].flatMap((step) =>
      this.#counts[step]! > 0 ? [[step, this.#counts[step]!, this.#sums[step]!] as const] : [],
    );
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

const stepOf = (lufs: number): number =>
  Math.max(0, Math.min(STEPS - 1, Math.floor((lufs - ABSOLUTE_GATE_LUFS) * STEPS_PER_LU)));
