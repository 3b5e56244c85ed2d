import type { HlsConfig } from 'hls.js';
import type { PlayerSource } from './player-state.js';

/** A pause before something is tried again. */
export const RETRY_MS = 1000;
const RETRY = { maxNumRetry: 1_000_000, retryDelayMs: RETRY_MS, maxRetryDelayMs: 4000 };
/** What a line is taken to carry until that has been seen. */
const FIRST_ESTIMATE_BPS = 2_000_000;
/** A held playlist request may wait three target durations for its answer. */
const PLAYLIST_POLICY = {
  default: { maxTimeToFirstByteMs: 15_000, maxLoadTimeMs: 20_000, timeoutRetry: RETRY, errorRetry: RETRY },
};
const MEDIA_POLICY = {
  default: { maxTimeToFirstByteMs: 8000, maxLoadTimeMs: 30_000, timeoutRetry: RETRY, errorRetry: RETRY },
};

/**
 * How hls.js plays a source: tries without limit, live at low latency.
 * @param startPosition - seconds from the beginning of the playlist; `null` begins at the usual place.
 * @param addressOf - what is asked for in place of an address.
 */
export function settingsFor(
  kind: PlayerSource['kind'],
  startPosition: number | null,
  addressOf: (url: string) => string,
): Partial<HlsConfig> {
  const isLive = kind === 'live';
  return {
    lowLatencyMode: isLive,
    maxLiveSyncPlaybackRate: 1.5,
    backBufferLength: 60,
    // It begins small enough for most lines, and with what a small window can show.
    startLevel: -1,
    testBandwidth: false,
    abrEwmaDefaultEstimate: FIRST_ESTIMATE_BPS,
    capLevelToPlayerSize: true,
    // Parts are small: a line that has become worse is to be noticed within seconds.
    abrEwmaFastLive: 1,
    abrEwmaSlowLive: 4,
    startPosition: startPosition ?? (isLive ? -1 : 0),
    manifestLoadPolicy: PLAYLIST_POLICY,
    playlistLoadPolicy: PLAYLIST_POLICY,
    fragLoadPolicy: MEDIA_POLICY,
    xhrSetup: (xhr, url) => xhr.open('GET', addressOf(url), true),
  };
}
