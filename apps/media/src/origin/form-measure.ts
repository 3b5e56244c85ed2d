import { TRACK_ID, VIDEO_TIMESCALE } from '@heliphon/core/media/track';
import { readBoxes, readMovieFragment } from '@heliphon/core/packaging/read-boxes';

/** What segments of one form take, and how many pictures they have in a second. */
export class FormMeasure {
  /** Of the largest. */
  mostBps = 0;
  #bytes = 0;
  #seconds = 0;
  #pictures = 0;
  #pictureTime = 0;

  add(segment: Uint8Array, durationSeconds: number): void {
    this.mostBps = Math.max(this.mostBps, (segment.byteLength * 8) / durationSeconds);
    this.#bytes += segment.byteLength;
    this.#seconds += durationSeconds;
    for (const { type, bytes } of readBoxes(segment)) {
      if (type !== 'moof') continue;
      const video = readMovieFragment(bytes).find(({ trackId }) => trackId === TRACK_ID.video);
      this.#pictures += video?.samples.length ?? 0;
      this.#pictureTime += video?.samples.reduce((sum, { duration }) => sum + duration, 0) ?? 0;
    }
  }

  get averageBps(): number {
    return this.#seconds === 0 ? 0 : (this.#bytes * 8) / this.#seconds;
  }

  /** `null` where there is no picture. */
  get frameRateFps(): number | null {
    return this.#pictures === 0 ? null : (this.#pictures * VIDEO_TIMESCALE) / this.#pictureTime;
  }
}
