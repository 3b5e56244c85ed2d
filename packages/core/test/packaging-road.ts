import { pictureAt, soundAt } from '../src/media/frame.js';
import { Timeline, type TimelineSignal } from '../src/media/timeline.js';
import type { Tracks } from '../src/media/track.js';
import { Packager, type PackagerOutput, type Part, type Segment } from '../src/packaging/packager.js';

export const TRACKS: Tracks = {
  video: { config: Uint8Array.of(1, 100, 0, 31), widthPx: 1280, heightPx: 720, codec: 'avc1.64001f' },
  audio: { config: Uint8Array.of(0x11, 0x90), sampleRateHz: 48_000, channels: 2, codec: 'mp4a.40.2' },
};
export const DATA = new Uint8Array(20);

/** A programme's timeline with its packager, fed by hand, picture by picture. */
export class PackagingRoad {
  readonly timeline = new Timeline();
  readonly packager = new Packager();
  readonly outputs: PackagerOutput[] = [];

  /** @param atMs - when it comes, on the programme's time. */
  picture(
    ms: number,
    {
      isKeyframe = false,
      offsetMs = 0,
      atMs = 1000,
    }: { isKeyframe?: boolean; offsetMs?: number; atMs?: number } = {},
  ): PackagerOutput[] {
    const frame = pictureAt(ms, { offsetMs, isKeyframe, data: DATA });
    return this.#take(this.timeline.push(frame, TRACKS, atMs));
  }
  sound(ms: number, data: Uint8Array = DATA): void {
    this.#take(this.timeline.push(soundAt(ms, data), TRACKS, 0));
  }
  end(): PackagerOutput[] {
    return this.#take(this.timeline.break());
  }

  get parts(): Part[] {
    return this.outputs.flatMap((output) => (output.type === 'part' ? [output.part] : []));
  }
  get segments(): Segment[] {
    return this.outputs.flatMap((output) => (output.type === 'segment' ? [output.segment] : []));
  }

  #take(signals: readonly TimelineSignal[]): PackagerOutput[] {
    const made = signals.flatMap((signal) => this.packager.take(signal));
    this.outputs.push(...made);
    return made;
  }
}
