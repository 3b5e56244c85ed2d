import { type Frame, pictureAt, soundAt } from '@heliphon/core/media/frame';
import { AAC_FRAME_SAMPLES } from '@heliphon/core/media/silence';
import type { AudioTrack, Tracks } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import type { Reel } from './picture-reels.js';
import type { SoundReel } from './sound-reels.js';

/** Fine enough for the fastest rate a reel may have. */
const STEP_MS = 15;

/** What is heard with a slate: pieces of the programme's own kind of sound. */
export interface SlateSound {
  readonly reel: SoundReel;
  readonly track: AudioTrack;
}

/** Shows a reel over and over, as fast as time goes. */
export class SlatePlayer {
  readonly #tracks: Tracks;
  readonly #beganAtMs: number;
  readonly #offsetMs: number;
  readonly #timer: NodeJS.Timeout;
  #shown = 0;
  #heard = 0;
  #isHeld = false;

  /**
   * @param beganMs - how long ago it should have begun: what it missed is shown at once. Negative: it begins later.
   * @param offsetMs - how much later than they are decoded the programme's pictures are shown.
   * @param onto - `lateMs`: how much later than it belongs a frame comes.
   */
  constructor(
    readonly reel: Reel,
    /** `null`: silence, which the programme puts to it, of the kind that its sound had. */
    readonly sound: SlateSound | null,
    { beganMs, offsetMs }: { readonly beganMs: number; readonly offsetMs: number },
    private readonly clock: Clock,
    private readonly onto: (frame: Frame, tracks: Tracks, lateMs: number) => void,
  ) {
    this.#offsetMs = offsetMs;
    this.#tracks = { video: reel.track, audio: sound?.track ?? null };
    this.#beganAtMs = clock.monotonicMs() - beganMs;
    this.#timer = setInterval(() => this.#show(), STEP_MS);
    this.#show();
  }

  /** Stands still for a moment: what it stands in for may be back. */
  hold(): void {
    this.#isHeld = true;
  }

  /** Goes on where it would be by now. */
  goOn(): void {
    this.#isHeld = false;
  }

  stop(): void {
    clearInterval(this.#timer);
  }

  #show(): void {
    if (this.#isHeld) return;
    const { pictures, pictureMs } = this.reel;
    const passedMs = this.clock.monotonicMs() - this.#beganAtMs;
    for (; this.#shown * pictureMs <= passedMs; this.#shown += 1) {
      const { isKeyframe, data } = pictures[this.#shown % pictures.length]!;
      const ms = this.#shown * pictureMs;
      const picture = pictureAt(ms, { offsetMs: this.#offsetMs, isKeyframe, data });
      this.onto(picture, this.#tracks, passedMs - ms);
      this.#sound(passedMs, ms);
    }
  }

  /** The pieces that begin up to a moment. */
  #sound(passedMs: number, untilMs: number): void {
    if (!this.sound) return;
    const { track, reel } = this.sound;
    const pieceMs = (AAC_FRAME_SAMPLES * 1000) / track.sampleRateHz;
    for (; this.#heard * pieceMs <= untilMs; this.#heard += 1) {
      const data = reel.pieces[this.#heard % reel.pieces.length]!;
      const frame = soundAt(this.#heard * AAC_FRAME_SAMPLES, data, track.sampleRateHz);
      this.onto(frame, this.#tracks, passedMs - this.#heard * pieceMs);
    }
  }
}
