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
const PHASES = 4;
/** Phase after phase, each turned round so that it runs along the samples. */
const WEIGHTS = Float64Array.from(
  [ZERO, ONE, ONE.toReversed(), ZERO.toReversed()].flatMap((phase) => phase.toReversed()),
);
/** No interpolated sample can be larger than the largest around it times this. */
const GAIN_LIMIT = Math.max(
  ...[ZERO, ONE].map((phase) => phase.reduce((sum, tap) => sum + Math.abs(tap), 0)),
);
/** So many places are looked at together: most stretches of sound cannot hold a new peak and are passed over. */
const STRETCH = 48;

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
    const places = samples.length - TAPS + 1;
    for (let from = 0; from < places; from += STRETCH) {
      const to = Math.min(places, from + STRETCH);
      if (loudestIn(samples, from, to + TAPS - 1) * GAIN_LIMIT > this.#peak)
        this.#peak = interpolatedPeak(samples, from, to, this.#peak);
    }
  }
}

function loudestIn(samples: Float32Array, from: number, to: number): number {
  let loudest = 0;
  for (let at = from; at < to; at += 1) {
    const value = samples[at]!;
    if (value > loudest) loudest = value;
    else if (-value > loudest) loudest = -value;
  }
  return loudest;
}

/** Between two samples sound rises by less than this; a place whose neighbours are lower cannot hold a new peak. */
const RISE_LIMIT = 1.5;
const MIDDLE = TAPS / 2;

function interpolatedPeak(samples: Float32Array, from: number, to: number, known: number): number {
  let peak = known;
  for (let at = from; at < to; at += 1) {
    const beside = Math.max(Math.abs(samples[at + MIDDLE - 1]!), Math.abs(samples[at + MIDDLE]!));
    if (beside * RISE_LIMIT < peak) continue;
    for (let phase = 0; phase < PHASES * TAPS; phase += TAPS) {
      let sum = 0;
      for (let tap = 0; tap < TAPS; tap += 1) sum += WEIGHTS[phase + tap]! * samples[at + tap]!;
      if (sum > peak) peak = sum;
      else if (-sum > peak) peak = -sum;
    }
  }
  return peak;
}
