import type { Sample } from './fragment.js';
import type { Frame } from '../media/frame.js';
import { AAC_FRAME_SAMPLES, silentFrame } from '../media/silence.js';
import type { AudioTrack } from '../media/track.js';

/** Sound is counted in samples and set right once it strays this far from the encoder's own times. */
const DRIFT_MS = 35;
/** Sound that is this far behind the picture is not coming: silence takes its place, or players would stand still. */
const MISSING_AFTER_MS = 500;

type Timed = Omit<Sample, 'duration'>;

/** The sound of one run on the programme's time, in samples: without overlaps, and without holes that stop a player. */
export class AudioQueue {
  #waiting: Timed[] = [];
  /** Decode time of the next frame; `null` until the first. */
  #nextTime: number | null = null;
  readonly #silence: Uint8Array | null;

  /** In samples. */
  readonly #startTime: number;

  /**
   * @param startsAtMs - where the run's first picture is decoded, on the programme's time; sound before it is dropped.
   * Its sound begins a sample earlier, with silence if need be: where the times of two runs do not fit together, a
   * browser drops every picture that follows a piece of sound until the next keyframe (W3C Media Source Extensions,
   * "coded frame processing", 6), and so the sound has to come first.
   */
  constructor(
    readonly track: AudioTrack,
    startsAtMs: number,
  ) {
    this.#silence = silentFrame(track);
    this.#startTime = Math.max(0, Math.ceil((startsAtMs * track.sampleRateHz) / 1000) - 1);
  }

  /** Where the sound taken so far ends, in samples. */
  get endTime(): number {
    return this.#nextTime ?? this.#startTime;
  }

  /** How long one piece of it lasts. */
  get frameSeconds(): number {
    return AAC_FRAME_SAMPLES / this.track.sampleRateHz;
  }

  get canFill(): boolean {
    return this.#silence !== null;
  }

  /** @param frame - counted in samples, on the programme's time. */
  add({ decodeTime, data }: Frame): void {
    if (this.#nextTime === null) {
      if (decodeTime < this.#startTime) return;
      this.#fillUpTo(decodeTime - AAC_FRAME_SAMPLES / 2);
      this.#nextTime ??= decodeTime;
    }
    const driftMs = this.#toMs(decodeTime - this.#nextTime);
    if (driftMs < -DRIFT_MS) return;
    if (driftMs > DRIFT_MS) {
      this.#fillUpTo(decodeTime - AAC_FRAME_SAMPLES);
      this.#nextTime = decodeTime;
    }
    this.#push(data);
  }

  /** Takes what begins before `endMs`. `isNeeded` asks for silence even where sound is only a little late. */
  takeBefore(endMs: number, isNeeded: boolean): Sample[] {
    // The sound of what follows begins a sample before its picture.
    const limit = this.#toTime(endMs) - 1;
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
