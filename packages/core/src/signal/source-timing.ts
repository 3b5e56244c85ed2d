import { CLOCK_SLIP_MS, CLOCK_STEP_MS } from '../media/timeline.js';

/** How what a source sends keeps to its own time stamps, over the last seconds. */
export interface TimingReport {
  /** Pictures a second by the encoder's own time: where they are missing, the encoder left them out. */
  readonly encodedFps: number;
  /** How much later than its own time the last picture came, against the quickest on this connection. */
  readonly lateMs: number;
  /** The longest step from one picture to the next, by the encoder's own time. */
  readonly longestGapMs: number;
  /** How often its time has leapt since it came. */
  readonly jumps: number;
  /** How far the sound that has come is ahead of the picture; negative: behind. `null` without both. */
  readonly soundAheadMs: number | null;
}

export const NO_TIMING: TimingReport = {
  encodedFps: 0,
  lateMs: 0,
  longestGapMs: 0,
  jumps: 0,
  soundAheadMs: null,
};

/** Clocks of encoders drift against ours by less than this: the quickest of long ago says nothing of today. */
const DRIFT = 0.0005;
/** Sound that stopped so long ago is not behind, but away. */
const SOUND_AWAY_MS = 1500;

interface Picture {
  readonly atMs: number;
  readonly sourceMs: number;
  readonly soundAheadMs: number | null;
}

/** Follows the time stamps of one connection. Arrival is on the monotone clock, the rest on the encoder's. */
export class SourceTiming {
  #pictures: Picture[] = [];
  #sound: { readonly atMs: number; readonly sourceMs: number } | null = null;
  #quickest: { readonly atMs: number; readonly offsetMs: number } | null = null;
  #lateMs = 0;
  #jumps = 0;

  constructor(private readonly windowMs: number) {}

  /** @returns whether its time has leapt: what was measured by it before says nothing any more. */
  picture(atMs: number, sourceMs: number): boolean {
    const last = this.#pictures.at(-1);
    const stepMs = last ? sourceMs - last.sourceMs : 0;
    const hasLeapt = stepMs < -CLOCK_SLIP_MS || stepMs > CLOCK_STEP_MS;
    if (hasLeapt) this.#startOver();
    const sound = this.#sound && atMs - this.#sound.atMs < SOUND_AWAY_MS ? this.#sound : null;
    this.#pictures.push({ atMs, sourceMs, soundAheadMs: sound && sound.sourceMs - sourceMs });
    const offsetMs = atMs - sourceMs;
    const known = this.#quickest ? this.#quickest.offsetMs + (atMs - this.#quickest.atMs) * DRIFT : Infinity;
    this.#quickest = { atMs, offsetMs: Math.min(offsetMs, known) };
    this.#lateMs = offsetMs - this.#quickest.offsetMs;
    return hasLeapt;
  }

  sound(atMs: number, sourceMs: number): void {
    this.#sound = { atMs, sourceMs };
  }

  /** The report at `nowMs`; forgets what is older than the window. */
  report(nowMs: number): TimingReport {
    this.#pictures = this.#pictures.filter(({ atMs }) => nowMs - atMs < this.windowMs);
    const steps = this.#pictures
      .slice(1)
      .map(({ sourceMs }, index) => sourceMs - this.#pictures[index]!.sourceMs);
    const spanMs = steps.reduce((sum, stepMs) => sum + stepMs, 0);
    const aheads = this.#pictures.flatMap(({ soundAheadMs }) => soundAheadMs ?? []);
    return {
      encodedFps: spanMs > 0 ? Math.round((steps.length * 10_000) / spanMs) / 10 : 0,
      lateMs: this.#pictures.length > 0 ? Math.round(this.#lateMs) : 0,
      longestGapMs: Math.round(Math.max(0, ...steps)),
      jumps: this.#jumps,
      soundAheadMs:
        aheads.length > 0 ? Math.round(aheads.reduce((sum, ahead) => sum + ahead, 0) / aheads.length) : null,
    };
  }

  #startOver(): void {
    this.#jumps += 1;
    this.#pictures = [];
    this.#sound = null;
    this.#quickest = null;
  }
}
