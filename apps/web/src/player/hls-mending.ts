import type Hls from 'hls.js';

/** Of what a size takes that has run dry, a line is taken to carry so much. */
const CARRIED_SHARE = 0.6;

/** The picture has run dry: the line carries less than was thought. */
export function takeLess(hls: Hls): void {
  const level = hls.levels[hls.currentLevel];
  if (!level || hls.levels.length < 2) return;
  hls.bandwidthEstimate = Math.min(hls.bandwidthEstimate, level.bitrate * CARRIED_SHARE);
}

/** What never had its playlist has to ask for that first: a node that has just taken an event over may not have it yet. */
export function loadAgain(hls: Hls): void {
  if (hls.levels.length === 0 && hls.url) hls.loadSource(hls.url);
  else hls.startLoad();
}

/** Recovering empties the element, and that pauses it. */
export function recover(hls: Hls, wasPaused: boolean, resume: () => void): void {
  hls.recoverMediaError();
  if (!wasPaused) resume();
}
