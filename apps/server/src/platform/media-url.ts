import { CAMERA_PATH } from '@heliphon/core/ingest/camera-line';
import type { ServerConfig } from './config.js';

/** Where the media node is for whoever asked us as `requestHost` (`host[:port]`): as it is set, else on the same machine. */
export function mediaUrlOf({ mediaUrl, mediaPort }: ServerConfig, requestHost: string): string {
  if (mediaUrl) return mediaUrl.replace(/\/$/, '');
  return `http://${requestHost.replace(/:\d+$/, '')}:${mediaPort}`;
}

/** The same for browsers that send. */
export const sendUrlOf = (config: ServerConfig, requestHost: string): string =>
  mediaUrlOf(config, requestHost).replace(/^http/, 'ws') + CAMERA_PATH;
