/** Taken once: what follows runs for every sample of hours. */
const { abs, max } = Math;

/** Two of the four phases of the interpolating filter of ITU-R BS.1770-5, annex 2; the others mirror them. */
const ZERO = [
  0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625,
  0.97216796875, -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
];
const ONE = [
  -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
  -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
];
const TAPS = 12;
const MIDDLE = TAPS / 2;
/** The weights of the four phases, each turned round so that it runs along the samples. */
export const WEIGHTS = [ZERO, ONE, ONE.toReversed(), ZERO.toReversed()].map((phase) => phase.toReversed());
/**
 * Two phases that mirror each other are worked out together: half their sum from the sums of mirrored samples, half
 * their difference from the differences, with half the products. The larger of the two is the sizes of both added.
 */
const halves = (phase: readonly number[], sign: 1 | -1): Float64Array =>
  Float64Array.from(phase.slice(0, MIDDLE), (weight, tap) => (weight + sign * phase[TAPS - 1 - tap]!) / 2);
const OUTER_SUM = halves(WEIGHTS[0]!, 1);
const OUTER_DIFFERENCE = halves(WEIGHTS[0]!, -1);
const INNER_SUM = halves(WEIGHTS[1]!, 1);
const INNER_DIFFERENCE = halves(WEIGHTS[1]!, -1);
/**
 * How far an interpolated sample can lie from zero: by `straight` times the larger of its two neighbours, plus `bend`
 * times the largest second difference around it. Each phase is a straight line between the two neighbours and a sum of
 * second differences; smooth sound bends little, so that nearly all places can be passed over.
 */
const REACH = {
  straight: Math.max(...WEIGHTS.map(sumOf)),
  bend: Math.max(...WEIGHTS.map(bendOf)),
};
/** So many places are looked at together. */
const STRETCH = 48;

/** The largest value between the samples of one channel, four times oversampled. */
export class TruePeak {
  /** What the filter still needs of the block before, then the block; made once, since blocks are of one size. */
  #samples: Float32Array = new Float32Array(TAPS - 1);
  #peak = 0;

  /** Linear, 1 is full scale; since the last `begin`. */
  get peak(): number {
    return this.#peak;
  }

  /** Forgets the peak, not the sound. */
  begin(): void {
    this.#peak = 0;
  }

  /** @param block - interleaved samples of all channels, from `first` on every `step`-th is this one's */
  push(block: Float32Array, first = 0, step = 1): void {
    const samples = this.#append(block, first, step);
    const places = samples.length - TAPS + 1;
    for (let from = 0; from < places; from += STRETCH) {
      const to = Math.min(places, from + STRETCH);
      const bent = REACH.bend * sharpestBend(samples, from, to + TAPS - 1);
      this.#peak = interpolatedPeak(samples, from, to, bent, this.#peak);
    }
  }

  #append(block: Float32Array, first: number, step: number): Float32Array {
    const before = this.#samples;
    const size = TAPS - 1 + block.length / step;
    const samples = before.length === size ? before : new Float32Array(size);
    samples.set(before.subarray(before.length - (TAPS - 1)));
    for (let from = first, to = TAPS - 1; from < block.length; from += step, to += 1)
      samples[to] = block[from]!;
    this.#samples = samples;
    return samples;
  }
}

function sumOf(weights: readonly number[]): number {
  return weights.reduce((sum, weight) => sum + weight, 0);
}

/** The sum of the sizes of the second-difference weights that, with a straight line, make up a phase. */
function bendOf(weights: readonly number[]): number {
  const sum = sumOf(weights);
  const share = weights.reduce((moment, weight, tap) => moment + weight * (tap - MIDDLE + 1), 0) / sum;
  let once = 0;
  let twice = 0;
  let sizes = 0;
  weights.forEach((weight, tap) => {
    const line = tap === MIDDLE - 1 ? sum * (1 - share) : tap === MIDDLE ? sum * share : 0;
    once += weight - line;
    twice += once;
    sizes += abs(twice);
  });
  return sizes;
}

/** The largest second difference of the samples from one place to another. */
function sharpestBend(samples: Float32Array, from: number, to: number): number {
  let before = samples[from]!;
  let here = samples[from + 1]!;
  let sharpest = 0;
  for (let at = from + 2; at < to; at += 1) {
    const after = samples[at]!;
    const bend = abs(before - 2 * here + after);
    if (bend > sharpest) sharpest = bend;
    before = here;
    here = after;
  }
  return sharpest;
}

function interpolatedPeak(
  samples: Float32Array,
  from: number,
  to: number,
  bent: number,
  known: number,
): number {
  let peak = known;
  for (let at = from; at < to; at += 1) {
    const beside = max(abs(samples[at + MIDDLE - 1]!), abs(samples[at + MIDDLE]!));
    if (REACH.straight * beside + bent <= peak) continue;
    peak = max(peak, interpolatedAt(samples, at));
  }
  return peak;
}

/** The largest of the four interpolated samples at a place. */
function interpolatedAt(samples: Float32Array, at: number): number {
  let outerSum = 0;
  let outerDifference = 0;
  let innerSum = 0;
  let innerDifference = 0;
  for (let tap = 0; tap < MIDDLE; tap += 1) {
    const left = samples[at + tap]!;
    const right = samples[at + TAPS - 1 - tap]!;
    outerSum += OUTER_SUM[tap]! * (left + right);
    outerDifference += OUTER_DIFFERENCE[tap]! * (left - right);
    innerSum += INNER_SUM[tap]! * (left + right);
    innerDifference += INNER_DIFFERENCE[tap]! * (left - right);
  }
  return max(abs(outerSum) + abs(outerDifference), abs(innerSum) + abs(innerDifference));
}
