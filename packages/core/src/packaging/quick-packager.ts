import { withParameterSets } from '../ingest/annex-b.js';
import { type Frame, isPicture } from '../media/frame.js';
import { VIDEO_TIMESCALE, type WholeTracks } from '../media/track.js';
import { AudioQueue } from './audio-queue.js';
import { writeFragment } from './fragment.js';
import { writeInitSegment } from './init-segment.js';

/** Until two pictures have told how long one stands. */
const USUAL_PICTURE_TIME = VIDEO_TIMESCALE / 30;
const TICKS_PER_MS = VIDEO_TIMESCALE / 1000;

export type QuickOutput =
  /** A header, which goes for all fragments until the next. @param codecs - as RFC 6381 has them. */
  | { readonly type: 'run'; readonly codecs: string; readonly init: Uint8Array }
  | { readonly type: 'fragment'; readonly bytes: Uint8Array };

/**
 * Makes a fragment of every single picture as it comes, for a monitor that must not lag behind: a part of a playlist would
 * wait until it is full. How long a picture stands is taken from the one before it, as the next is not there yet.
 */
export class QuickPackager {
  /** What came last, until its first keyframe begins it. */
  #next: WholeTracks | null = null;
  #run: { readonly tracks: WholeTracks; readonly sound: AudioQueue } | null = null;
  #sequence = 0;
  #lastTime = 0;
  #pictureTime = USUAL_PICTURE_TIME;

  /** A run begins, or goes on: with its next keyframe. */
  configure(tracks: WholeTracks): void {
    this.#next = tracks;
    this.#run = null;
  }

  /** After frames that were left out: goes on with the next keyframe. */
  skip(): void {
    this.#next ??= this.#run?.tracks ?? null;
    this.#run = null;
  }

  /** @param frame - on the programme's own time. */
  take(frame: Frame): readonly QuickOutput[] {
    if (!isPicture(frame)) {
      this.#run?.sound.add(frame);
      return [];
    }
    const begun = this.#begin(frame);
    const run = this.#run;
    if (!run) return [];
    const { decodeTime, presentationTime, isKeyframe, data } = frame;
    if (begun.length === 0) this.#pictureTime = decodeTime - this.#lastTime;
    this.#lastTime = decodeTime;
    this.#sequence += 1;
    const picture = {
      decodeTime,
      duration: this.#pictureTime,
      compositionOffset: presentationTime - decodeTime,
      isKeyframe,
      data: isKeyframe ? withParameterSets(run.tracks.video.config, data) : data,
    };
    const audio = run.sound.takeBefore((decodeTime + this.#pictureTime) / TICKS_PER_MS, false);
    const bytes = writeFragment({ sequence: this.#sequence, video: [picture], audio });
    return [...begun, { type: 'fragment', bytes }];
  }

  #begin({ isKeyframe, decodeTime }: Frame): readonly QuickOutput[] {
    if (!this.#next || !isKeyframe) return [];
    const tracks = this.#next;
    this.#next = null;
    this.#run = { tracks, sound: new AudioQueue(tracks.audio, decodeTime / TICKS_PER_MS) };
    const codecs = [tracks.video.codec, tracks.audio.codec].join(',');
    return [{ type: 'run', codecs, init: writeInitSegment(tracks) }];
  }
}
