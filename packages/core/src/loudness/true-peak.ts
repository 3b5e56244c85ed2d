/** Four phases of the interpolating filter of ITU-R BS.1770-5, annex 2; the last two mirror the first two. */
const PHASES: readonly Float64Array[] = (() => {
  const zero = [
    0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625,
    0.97216796875, -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
  ];
  const one = [
    -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625,
    0.77978515625, -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
  ];
  return [zero, one, one.toReversed(), zero.toReversed()].map((phase) => Float64Array.from(phase));
})();
const TAPS = 12;
/** No interpolated sample can be larger than the largest sample times this (the largest sum of a phase's weights). */
const GAIN_LIMIT = Math.max(...PHASES.map((phase) => phase.reduce((sum, tap) => sum + Math.abs(tap), 0)));

/** The largest value between the samples of one channel, four times oversampled. */
export class TruePeak {
  #tail: Float32Array = new Float32Array(TAPS - 1);
  #peak = 0;

  /** Linear, 1 is full scale. */
  get peak(): number {
    return this.#peak;
  }

  push(channel: Float32Array): void {
    const samples = new Float32Array(this.#tail.length + channel.length);
    samples.set(this.#tail);
    samples.set(channel, this.#tail.length);
    this.#tail = samples.slice(samples.length - (TAPS - 1));
    let loudest = 0;
    for (const sample of samples) loudest = Math.max(loudest, Math.abs(sample));
    // Most blocks cannot hold a new peak; only those that may are interpolated.
    if (loudest * GAIN_LIMIT <= this.#peak) return;
    for (let at = 0; at + TAPS <= samples.length; at += 1) {
      for (const phase of PHASES) {
        let sum = 0;
        for (let tap = 0; tap < TAPS; tap += 1) sum += phase[tap]! * samples[at + TAPS - 1 - tap]!;
        this.#peak = Math.max(this.#peak, Math.abs(sum));
      }
    }
  }
}
