import type Hls from 'hls.js';
import type { Events } from 'hls.js';
import { aheadSeconds } from './video-state.js';

/** Parts come three times a second: a loader that rests for longer, though more is listed, has lost its way. */
const REST_MS = 700;
const MORE_SECONDS = 0.6;
/** Until then it may find its way by itself. */
const NEARLY_OUT_SECONDS = 0.35;

/** How a live stream is being loaded. */
export interface LoadingSigns {
  /** How long nothing has been loading; 0 while something is. */
  readonly restingMs: number;
  /** What is left to play, and what is listed, from the position on. */
  readonly bufferedSeconds: number;
  readonly listedSeconds: number;
}

/** Whether loading has stopped while there is more to load, and what is left is nearly played. */
export const hasLostItsWay = ({ restingMs, bufferedSeconds, listedSeconds }: LoadingSigns): boolean =>
  restingMs > REST_MS &&
  bufferedSeconds < NEARLY_OUT_SECONDS &&
  listedSeconds - bufferedSeconds > MORE_SECONDS;

/** A moment beyond the end of what is there: hls.js looks for what it needs at the position then. */
const PAST_END_SECONDS = 0.05;

/**
 * Helps a live stream on where hls.js has stopped loading: it takes a fragment whose sound ends a few ms before its
 * picture for the one that it still needs, has it already, and rests for good.
 */
export class LoadWatch {
  #isLoading = false;
  #restingSinceMs = performance.now();

  constructor(
    private readonly hls: Hls,
    events: typeof Events,
  ) {
    hls.on(events.FRAG_LOADING, () => (this.#isLoading = true));
    for (const ending of [events.FRAG_LOADED, events.ERROR])
      hls.on(ending, () => {
        this.#isLoading = false;
        this.#restingSinceMs = performance.now();
      });
  }

  help(video: HTMLVideoElement, nowMs: number): void {
    const bufferedSeconds = aheadSeconds(video);
    const isLost = hasLostItsWay({
      restingMs: this.#isLoading ? 0 : nowMs - this.#restingSinceMs,
      bufferedSeconds,
      listedSeconds: (this.hls.latestLevelDetails?.edge ?? 0) - video.currentTime,
    });
    if (!isLost || video.paused || bufferedSeconds === 0) return;
    this.#restingSinceMs = nowMs;
    video.currentTime += bufferedSeconds + PAST_END_SECONDS;
  }
}
