/**
 * K-weighting (ITU-R BS.1770-5, annex 1): a shelf for the head, then a high pass, as two biquads at 48 kHz.
 * Coefficients are those of the recommendation's tables 1 and 2.
 */
const SHELF = {
  b0: 1.53512485958697,
  b1: -2.69169618940638,
  b2: 1.19839281085285,
  a1: -1.69065929318241,
  a2: 0.73248077421585,
} as const;
const HIGH_PASS = { b0: 1, b1: -2, b2: 1, a1: -1.99004745483398, a2: 0.99007225036621 } as const;

export const LOUDNESS_SAMPLE_RATE_HZ = 48_000;

/** The filter of one channel, in transposed direct form II; remembers where it was between blocks. */
export class KWeighting {
  readonly #memory = new Float64Array(4);

  /**
   * Mean square of the weighted samples of one channel. Called for every sample of hours: kept to plain arithmetic.
   * @param block - interleaved samples of all channels, from `first` on every `step`-th is this one's
   */
  meanSquare(block: Float32Array, first = 0, step = 1): number {
    const memory = this.#memory;
    let s1 = memory[0]!;
    let s2 = memory[1]!;
    let h1 = memory[2]!;
    let h2 = memory[3]!;
    let sum = 0;
    for (let index = first; index < block.length; index += step) {
      const sample = block[index]!;
      const shelved = SHELF.b0 * sample + s1;
      s1 = SHELF.b1 * sample - SHELF.a1 * shelved + s2;
      s2 = SHELF.b2 * sample - SHELF.a2 * shelved;
      const weighted = HIGH_PASS.b0 * shelved + h1;
      h1 = HIGH_PASS.b1 * shelved - HIGH_PASS.a1 * weighted + h2;
      h2 = HIGH_PASS.b2 * shelved - HIGH_PASS.a2 * weighted;
      sum += weighted * weighted;
    }
    memory[0] = s1;
    memory[1] = s2;
    memory[2] = h1;
    memory[3] = h2;
    return (sum * step) / block.length;
  }
}
