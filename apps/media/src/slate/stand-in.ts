import type { DesiredSlate } from '@heliphon/core/control/desired-state';
import { compositionOffsetMs, type Frame, isPicture } from '@heliphon/core/media/frame';
import { FIRST_SLATE_FORMAT, type SlateFormat, SlateFormatWatch } from '@heliphon/core/media/slate-format';
import type { TimelineSignal } from '@heliphon/core/media/timeline';
import { aacTrack, USUAL_SOUND } from '@heliphon/core/media/silence';
import type { AudioTrack, Tracks } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import { SlatePlayer, type SlateSound } from './slate-player.js';
import type { Reel } from './picture-reels.js';
import type { NodeSlates } from './node-slates.js';

/** Longer gaps are not filled: nobody would sit through that much slate. */
const MOST_FILLED_MS = 12_000;
/** Before the programme has had any. */
const FIRST_SOUND = aacTrack(USUAL_SOUND)!;

export interface StandInPorts {
  readonly stoppedMs: () => number;
  readonly show: (frame: Frame, tracks: Tracks, lateMs: number) => void;
}

/** The slate of one programme: made ahead for what its picture is like, and shown while that is away. */
export class StandIn {
  #want: DesiredSlate | null = null;
  #watch = new SlateFormatWatch();
  #player: SlatePlayer | null = null;
  /** Its picture has been seen: what is missing will be back, and is not only coming. */
  #hasBegun = false;
  #offsetMs = 0;
  #soundTrack: AudioTrack = FIRST_SOUND;

  constructor(
    private readonly slates: NodeSlates,
    private readonly clock: Clock,
    private readonly ports: StandInPorts,
  ) {}

  get isPlaying(): boolean {
    return this.#player !== null;
  }

  /** How long ago the programme's time stopped; negative where it is ahead. */
  get stoppedMs(): number {
    return this.ports.stoppedMs();
  }

  get want(): DesiredSlate | null {
    return this.#want;
  }

  /** Learnt from the programme's picture; `null` before that. */
  get format(): SlateFormat | null {
    return this.#watch.format;
  }

  takeUp(format: SlateFormat | null, hasBegun: boolean): void {
    this.#watch = new SlateFormatWatch(format);
    this.#hasBegun = hasBegun;
  }

  setWant(want: DesiredSlate | null): void {
    this.#want = want;
    if (!want) this.stop();
  }

  /** Has what may be needed made ready; asked over and over, since a still may come, or another, at any time. */
  prepare(): void {
    for (const words of this.#hasBegun ? (['back'] as const) : (['coming', 'back'] as const))
      this.#reelFor(words, this.#format);
    this.#sound();
  }

  /**
   * Learns what the programme's picture is like.
   * @param signals - of its own picture, not of a slate.
   * @returns whether it is like something else now
   */
  learn(signals: readonly TimelineSignal[]): boolean {
    let isOther = false;
    for (const signal of signals) {
      if (signal.type === 'run-began') {
        this.#watch.configure(signal.tracks);
        this.#soundTrack = signal.tracks.audio;
      }
      if (signal.type !== 'frame') continue;
      const { frame } = signal;
      if (isPicture(frame) && frame.isKeyframe) this.#offsetMs = compositionOffsetMs(frame);
      isOther = this.#watch.frame(frame) || isOther;
    }
    return isOther;
  }

  /**
   * Begins where the programme stopped, so that nothing is missing between; goes on after it was held; or takes the reel
   * that has become ready meanwhile.
   */
  play(): void {
    this.#player?.goOn();
    const reel = this.#best();
    const sound = this.#sound();
    const isShown =
      this.#player?.reel.name === reel?.name && this.#player?.sound?.reel.name === sound?.reel.name;
    if (!reel || isShown) return;
    this.#player?.stop();
    const { stoppedMs } = this;
    const beganMs = stoppedMs < MOST_FILLED_MS ? stoppedMs : 0;
    this.#player = new SlatePlayer(
      reel,
      sound,
      { beganMs, offsetMs: this.#offsetMs },
      this.clock,
      this.ports.show,
    );
  }

  hold(): void {
    this.#player?.hold();
  }

  /** The programme's own picture is there. */
  makeWay(): void {
    this.#hasBegun = true;
    this.stop();
  }

  stop(): void {
    this.#player?.stop();
    this.#player = null;
  }

  get #format(): SlateFormat {
    return this.#watch.format ?? FIRST_SLATE_FORMAT;
  }

  /** What fits; until that is ready, what is shown already. */
  #best(): Reel | null {
    return this.#reelFor(this.#hasBegun ? 'back' : 'coming', this.#format) ?? this.#player?.reel ?? null;
  }

  #sound(): SlateSound | null {
    const track = this.#soundTrack;
    const reel = this.#want && this.slates.soundReel(this.#want.sound, track);
    return reel && { reel, track };
  }

  #reelFor(words: keyof DesiredSlate['stillIds'], format: SlateFormat): Reel | null {
    return this.#want && this.slates.reel(this.#want.stillIds[words], format);
  }
}
