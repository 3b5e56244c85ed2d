import type { Sample } from './fragment.js';
import type { AudioTrack } from './init-segment.js';
import { silentFrame } from './silence.js';

export const AAC_FRAME_SAMPLES = 1024;
/** Sound is counted in samples and set right once it strays this far from the encoder's own times. */
const DRIFT_MS = 35;
/** Sound that is this far behind the picture is not coming: silence takes its place, or players would stand still. */
const MISSING_AFTER_MS = 500;

type Timed = Omit<Sample, 'duration'>;

/** The sound of one run on the programme's time, in samples: without overlaps, and without holes that stop a player. */
export class SoundLine {
  #waiting: Timed[] = [];
  /** Decode time of the next frame; `null` until the first. */
  #nextTime: number | null = null;
  readonly #silence: Uint8Array | null;

  /** @param startsAtMs - where the run begins on the programme's time; sound before it is dropped. */
  constructor(
    readonly track: AudioTrack,
    private readonly startsAtMs: number,
  ) {
    this.#silence = silentFrame(track);
  }

  /** Where the sound taken so far ends, in samples. */
  get endTime(): number {
    return this.#nextTime ?? this.#toTime(this.startsAtMs);
  }

  get canFill(): boolean {
    return this.#silence !== null;
  }

  /** How far a frame lies from where the next is expected, in ms. */
  driftMs(atMs: number): number {
    return this.#nextTime === null ? 0 : this.#toMs(this.#toTime(atMs) - this.#nextTime);
  }

  add(atMs: number, data: Uint8Array): void {
    if (this.#nextTime === null) {
      if (atMs < this.startsAtMs) return;
      this.#nextTime = this.#toTime(atMs);
    }
    const driftMs = this.driftMs(atMs);
    if (driftMs < -DRIFT_MS) return;
    if (driftMs > DRIFT_MS) {
      this.#fillUpTo(this.#toTime(atMs) - AAC_FRAME_SAMPLES);
      this.#nextTime = this.#toTime(atMs);
    }
    this.#push(data);
  }

  /** Takes what begins before `endMs`. `isNeeded` asks for silence even where sound is only a little late. */
  takeBefore(endMs: number, isNeeded: boolean): Sample[] {
    const limit = this.#toTime(endMs);
    const behindMs = this.#toMs(limit - this.endTime);
    if (behindMs > MISSING_AFTER_MS || (isNeeded && behindMs > 0)) this.#fillUpTo(limit - 1);
    const taken = this.#waiting.filter((sample) => sample.decodeTime < limit);
    this.#waiting = this.#waiting.slice(taken.length);
    return taken.map((sample, index) => ({
      ...sample,
      duration: (taken[index + 1]?.decodeTime ?? sample.decodeTime + AAC_FRAME_SAMPLES) - sample.decodeTime,
    }));
  }

  /** Silence in whole frames until the next one would begin after `time`. */
  #fillUpTo(time: number): void {
    if (!this.#silence) return;
    this.#nextTime = this.endTime;
    while (this.#nextTime <= time) this.#push(this.#silence);
  }

  #push(data: Uint8Array): void {
    this.#waiting.push({ decodeTime: this.#nextTime!, compositionOffset: 0, isKeyframe: true, data });
    this.#nextTime! += AAC_FRAME_SAMPLES;
  }

  #toTime(ms: number): number {
    return Math.round((ms * this.track.sampleRateHz) / 1000);
  }

  #toMs(time: number): number {
    return (time * 1000) / this.track.sampleRateHz;
  }
}
