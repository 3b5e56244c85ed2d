import { hasInteracted } from './interaction.js';

/** What is heard of a video element: muted until somebody has touched the page, where browsers want it so. */
export class ElementSound {
  constructor(
    private readonly video: HTMLVideoElement,
    /** Sound is wanted from the start; a desk's monitor begins silent. */
    private readonly isWanted: boolean,
    /** Whether it is to be offered. */
    private readonly offer: (wantsSound: boolean) => void,
  ) {}

  /** The first picture of a page nobody has touched yet comes without sound, and offers it. */
  beginSilently(): void {
    if (this.isWanted && hasInteracted()) return;
    this.video.muted = true;
    this.offer(this.isWanted);
  }

  /** The browser has refused to play with it. */
  refused(): void {
    this.video.muted = true;
    this.offer(true);
  }

  turnOn(): void {
    this.video.muted = false;
    if (this.video.volume === 0) this.video.volume = 1;
    this.offer(false);
  }

  setMuted(muted: boolean): void {
    this.video.muted = muted;
    if (!muted) this.offer(false);
  }

  setVolume(volume: number): void {
    this.video.volume = Math.min(1, Math.max(0, volume));
    this.setMuted(volume === 0);
  }
}
