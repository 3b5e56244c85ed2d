import { fromBase64 } from '../bytes.js';
import { parseAvcConfig } from '../ingest/codec-config.js';
import type { VideoTrack } from './track.js';

/**
 * A quiet dark ground of 1280 by 720, H.264 Main, one picture: what viewers see where an encoder sends sound alone. Made once
 * by x264 from a single colour; its configuration (ISO/IEC 14496-15) and its one picture, with lengths.
 */
const CONFIG = 'AU1AH//hABhnTUAf3AUAW7ARAAADAAEAAAMAAg8YM4ABAAVo7g8TIA==';
const PICTURE =
  'AAAA2WWIhAVzn/7sz34FNyN/nW2Ch2deOY06aGeK6v9N6hcRjDjyW4AAAAMAAAMAAAMAAAMDwmaoaK/Y1s08JAAAAwAAB9AABWQABwgAELAANQAAyQADiAAP4ABMgAIaAA+wAGKAA6wAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMAAAMADZk=';

function stillTrack(): VideoTrack {
  const config = fromBase64(CONFIG);
  const parameters = parseAvcConfig(config);
  if (!parameters.ok) throw new Error(parameters.error.detail);
  return { ...parameters.value, config };
}

export const STILL_TRACK: VideoTrack = stillTrack();
export const STILL_PICTURE: Uint8Array = fromBase64(PICTURE);
