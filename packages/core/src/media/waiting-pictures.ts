import { decodeMs, type Frame, isPicture } from './frame.js';
import { type Tracks, VIDEO_TIMESCALE } from './track.js';

/** A frame of a source, as it came. */
export interface ArrivedFrame {
  readonly frame: Frame;
  readonly tracks: Tracks;
  /** On the monotone clock. */
  readonly atMs: number;
}

/** A source may take over from where the other stopped, if that was no longer ago. */
const REACH_MS = 2000;
/** More pictures without a keyframe are not held: it would take too long to run through them. */
const MOST_HELD_MS = 6000;
/** Each picture from before the other stopped passes by in this time: RTMP counts in whole ms, and times only rise. */
const PASSING_MS = 2;

const TICKS_PER_MS = VIDEO_TIMESCALE / 1000;

/**
 * The latest pictures of a source that waits, from a keyframe on. With them it can take over at any moment, and not only at
 * its next keyframe, which is up to some seconds away.
 */
export class WaitingPictures {
  #held: ArrivedFrame[] = [];

  take(arrived: ArrivedFrame): void {
    const { frame, tracks, atMs } = arrived;
    const [first] = this.#held;
    if (first && (first.tracks !== tracks || atMs - first.atMs > MOST_HELD_MS)) this.#held = [];
    if (this.#held.length === 0 && !isBeginning(frame)) return;
    this.#held.push(arrived);
    if (isBeginning(frame)) this.#letGoBefore(atMs - REACH_MS);
  }

  /**
   * What a programme gets that stopped at `stoppedAtMs` and goes on with this source: its pictures from then on, at their own
   * times, so that nothing is missing. A decoder needs those before them, back to a keyframe; they pass by in a moment.
   * `null` where there is no keyframe to begin with.
   */
  from(stoppedAtMs: number): ArrivedFrame[] | null {
    const last = this.#held.findLast(({ frame }) => isPicture(frame));
    if (!last) return null;
    const lastMs = decodeMs(last.frame);
    const stoppedMs = lastMs - (last.atMs - stoppedAtMs);
    const begins = this.#beginningFor(stoppedMs);
    const frames = this.#held.slice(begins);
    const beganMs = decodeMs(frames[0]!.frame);
    if (beganMs >= stoppedMs) return frames;
    const passing = frames.filter(({ frame }) => isPicture(frame) && decodeMs(frame) < stoppedMs);
    const lengthMs = passing.length * PASSING_MS;
    const untilMs = Math.min(stoppedMs + lengthMs, lastMs);
    const quick = (ms: number): number =>
      ms >= untilMs ? ms : untilMs - ((untilMs - ms) * lengthMs) / (untilMs - beganMs);
    return frames
      .filter(({ frame }) => isPicture(frame) || decodeMs(frame) >= stoppedMs)
      .map((arrived) => ({
        ...arrived,
        frame: isPicture(arrived.frame) ? retimed(arrived.frame, quick) : arrived.frame,
        atMs: Math.max(arrived.atMs, stoppedAtMs),
      }));
  }

  /** The last keyframe before an instant of the source's clock; the first one of all where there is none. */
  #beginningFor(ms: number): number {
    const index = this.#held.findLastIndex(({ frame }) => isBeginning(frame) && decodeMs(frame) <= ms);
    return Math.max(0, index);
  }

  /** Nothing is asked for that came earlier. */
  #letGoBefore(atMs: number): void {
    const index = this.#held.findLastIndex((held) => isBeginning(held.frame) && held.atMs <= atMs);
    if (index > 0) this.#held.splice(0, index);
  }
}

const isBeginning = (frame: Frame): boolean => isPicture(frame) && frame.isKeyframe;

/** @param timeOf - where an instant of the source's clock is to be, in ms. */
function retimed(picture: Frame, timeOf: (ms: number) => number): Frame {
  const { presentationTime, timescale } = picture;
  return {
    ...picture,
    timescale: VIDEO_TIMESCALE,
    decodeTime: Math.round(timeOf(decodeMs(picture)) * TICKS_PER_MS),
    presentationTime: Math.round(timeOf((presentationTime * 1000) / timescale) * TICKS_PER_MS),
  };
}
