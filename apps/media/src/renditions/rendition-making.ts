import type { Frame } from '@heliphon/core/media/frame';
import type { VideoTrack, WholeTracks } from '@heliphon/core/media/track';
import { FollowingPackager } from '@heliphon/core/packaging/following-packager';
import type { PackagerOutput } from '@heliphon/core/packaging/packager';
import { framesOf } from '@heliphon/core/packaging/part-frames';
import type { Rendition } from './rendition.js';

export interface MakingEvents {
  /** A run of it begins, and what comes of it. */
  onRun(tracks: WholeTracks): void;
  onFrame(frame: Frame): void;
}

/** A smaller picture while it is made: what its encoder brings is cut as the original is, kept, and handed on. */
export class RenditionMaking {
  readonly #packager = new FollowingPackager();
  #lastSequence: number | null = null;
  #tracks: WholeTracks | null = null;

  constructor(
    readonly rendition: Rendition,
    private readonly original: Rendition,
    private readonly events: MakingEvents,
  ) {}

  /** Something of it can be played live. */
  get isThere(): boolean {
    return (this.rendition.windowFor('desk')?.segments.length ?? 0) > 0;
  }

  /** Hears what the original's packager did. */
  follow(cuts: readonly PackagerOutput[]): void {
    for (const cut of cuts) this.#take(this.#packager.follow(cut));
  }

  /** @param picture - encoded, with the times of the one that it was made of */
  encoded(initNumber: number, track: VideoTrack, picture: Frame): void {
    this.#take(this.#packager.take(initNumber, track, picture));
  }

  /** No more pictures of a run come. */
  finish(initNumber: number): void {
    this.#take(this.#packager.finish(initNumber));
  }

  #take(outputs: readonly PackagerOutput[]): void {
    for (const output of outputs) if (output.type === 'segment-begun') this.#begin(output.sequence);
    this.rendition.take(outputs);
    for (const output of outputs) this.#handOn(output);
  }

  /** Numbers of a live playlist follow one another: behind a hole it starts over. */
  #begin(sequence: number): void {
    if (this.#lastSequence !== sequence - 1)
      this.rendition.startOver(this.original.windowFor('desk')!, sequence);
    this.#lastSequence = sequence;
  }

  #handOn(output: PackagerOutput): void {
    if (output.type === 'init') {
      this.#tracks = output.tracks;
      this.events.onRun(output.tracks);
    }
    if (output.type === 'part')
      for (const frame of framesOf(output, this.#tracks!)) this.events.onFrame(frame);
  }
}
