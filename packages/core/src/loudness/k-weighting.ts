/**
 * K-weighting (ITU-R BS.1770-5, annex 1): a shelf for the head, then a high pass, as two biquads at 48 kHz.
 * Coefficients are those of the recommendation's tables 1 and 2.
 */
const SHELF = {
  b: [1.53512485958697, -2.69169618940638, 1.19839281085285],
  a: [-1.69065929318241, 0.73248077421585],
} as const;
const HIGH_PASS = { b: [1, -2, 1], a: [-1.99004745483398, 0.99007225036621] } as const;

export const LOUDNESS_SAMPLE_RATE_HZ = 48_000;

type Biquad = typeof SHELF | typeof HIGH_PASS;

/** The filter of one channel; remembers where it was between blocks. */
export class KWeighting {
  readonly #shelf = new BiquadFilter(SHELF);
  readonly #highPass = new BiquadFilter(HIGH_PASS);

  /** Sum of squares of the weighted samples `from`, `from + step`, … of a block. */
  energy(samples: Float32Array, from: number, step: number): number {
    let sum = 0;
    for (let index = from; index < samples.length; index += step) {
      const weighted = this.#highPass.next(this.#shelf.next(samples[index]!));
      sum += weighted * weighted;
    }
    return sum;
  }
}

/** Transposed direct form II. */
class BiquadFilter {
  #first = 0;
  #second = 0;
  constructor(private readonly c: Biquad) {}

  next(sample: number): number {
    const { b, a } = this.c;
    const result = b[0] * sample + this.#first;
    this.#first = b[1] * sample - a[0] * result + this.#second;
    this.#second = b[2] * sample - a[1] * result;
    return result;
  }
}
