import type { LadderSource } from '@heliphon/core/ladder/renditions';
import type { Frame } from '@heliphon/core/media/frame';
import { VIDEO_TIMESCALE, type VideoTrack } from '@heliphon/core/media/track';

/** A rate is measured over this; one for less is none. */
const RATE_OVER_SECONDS = 4;
const USUAL_PICTURE_TIME = VIDEO_TIMESCALE / 30;

/** What a programme's picture takes, as far as ladders have to know. */
export class SourceMeasure {
  #videoBitrateBps: number | null = null;
  #firstTime: number | null = null;
  #bytes = 0;

  /** A run begins: what it takes is measured by itself. */
  begin(): void {
    this.#firstTime = null;
    this.#bytes = 0;
  }

  add({ decodeTime, data }: Frame): void {
    this.#firstTime ??= decodeTime;
    this.#bytes += data.byteLength;
    const seconds = (decodeTime - this.#firstTime) / VIDEO_TIMESCALE;
    if (seconds >= RATE_OVER_SECONDS) this.#videoBitrateBps = (this.#bytes * 8) / seconds;
  }

  /** @param frames - pictures one after another, which tell how many come in a second */
  sourceOf({ widthPx, heightPx }: VideoTrack, frames: readonly Frame[]): LadderSource {
    const times = frames.slice(1).map((frame, index) => frame.decodeTime - frames[index]!.decodeTime);
    const usual = times.sort((one, other) => one - other)[times.length >> 1] ?? USUAL_PICTURE_TIME;
    const videoBitrateBps = this.#videoBitrateBps;
    return { widthPx, heightPx, frameRateFps: VIDEO_TIMESCALE / usual, videoBitrateBps };
  }
}
