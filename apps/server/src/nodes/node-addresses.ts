import type { NodeSelf } from '@heliphon/core/control/observations';
import { CAMERA_PATH } from '@heliphon/core/ingest/camera-protocol';
import type { ServerConfig } from '../platform/config.js';

/** How a media node is reached. */
export interface NodeAddresses {
  readonly media: string;
  /** For browsers that send. */
  readonly send: string;
  readonly whip: string;
  readonly reach: string;
  readonly rtmp: string;
  readonly rtmps: string | null;
  readonly srtHost: string;
  readonly srtFirstPort: number;
}

/**
 * A node's addresses for anyone who asked us as `requestHost` (`host[:port]`): as they are set, else its ports on the
 * machine that was asked.
 */
export function addressesOf(self: NodeSelf, requestHost: string): NodeAddresses {
  const host = requestHost.replace(/:\d+$/, '');
  const media = withoutSlash(self.mediaUrl ?? `http://${host}:${self.mediaPort}`);
  const rtmp = withoutSlash(self.rtmpUrl ?? `rtmp://${host}:${self.rtmpPort}`);
  return {
    media,
    send: media.replace(/^http/, 'ws') + CAMERA_PATH,
    whip: `${media}/whip`,
    reach: `${media}/reach`,
    rtmp,
    rtmps: self.rtmpsUrl && withoutSlash(self.rtmpsUrl),
    srtHost: new URL(rtmp).hostname,
    srtFirstPort: self.srtFirstPort,
  };
}

/** What a node is taken for that has not said anything yet: the one beside the server. */
export const besideServer = (config: ServerConfig): NodeSelf => ({
  place: null,
  mediaUrl: config.mediaUrl,
  rtmpUrl: config.rtmpUrl,
  rtmpsUrl: config.rtmpsUrl,
  mediaPort: config.mediaPort,
  rtmpPort: config.rtmpPort,
  srtFirstPort: config.srtFirstPort,
});

const withoutSlash = (url: string): string => url.replace(/\/$/, '');
