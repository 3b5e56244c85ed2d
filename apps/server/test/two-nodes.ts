import type { DesiredState } from '@heliphon/core/control/desired-state';
import type { SourceFigures } from '@heliphon/core/control/observations';
import type { PointView } from '@heliphon/contracts/nodes';
import type { Problem } from '@heliphon/contracts/problem';
import type { SourceKey, SourceView } from '@heliphon/contracts/sources';
import { sha256Hex } from '../src/platform/ids.js';
import {
  type Answer,
  type HouseClient,
  NODE_SECRET,
  type NodeClient,
  ServerDriver,
  until,
} from './driver.js';
import { NO_TIMING } from '@heliphon/core/signal/source-timing';

export const QUAY = { nodeId: 'n1', secret: NODE_SECRET };
export const HILL = { nodeId: 'hill', secret: 'h'.repeat(40) };
/** Nothing answers there. */
export const NOWHERE = 'http://127.0.0.1:9';

/** A server with a house and two media nodes that are here, and go on saying so. */
export class TwoNodes {
  private constructor(
    readonly server: ServerDriver,
    readonly house: HouseClient,
    public quay: NodeClient,
    public hill: NodeClient,
  ) {}

  static async start(): Promise<TwoNodes> {
    const nodes = [QUAY, HILL].map(({ nodeId, secret }) => ({ nodeId, secretSha256Hex: sha256Hex(secret) }));
    const server = await ServerDriver.start({ nodes });
    const hill = await server.dialAsNode(HILL.secret, HILL.nodeId);
    const two = new TwoNodes(server, await server.house(), await server.dialAsNode(), hill);
    two.introduceQuay();
    hill.introduce({
      place: 'Hill House',
      mediaUrl: 'https://hill.example',
      mediaPort: 4611,
      rtmpPort: 1936,
    });
    two.quay.keepReporting();
    hill.keepReporting();
    await until(async () => (await two.points()).every(({ presence }) => presence === 'here'), 'both nodes');
    return two;
  }

  introduceQuay(): void {
    this.quay.introduce({ place: 'Quay House', mediaUrl: NOWHERE, rtmpUrl: 'rtmp://quay.example' });
  }

  async points(client = this.house): Promise<PointView[]> {
    return (await client.get<{ items: PointView[] }>('/api/points')).body.items;
  }

  async keyOf(source: SourceView): Promise<SourceKey> {
    return (await this.house.get<SourceKey>(`/api/sources/${source.id}/key`)).body;
  }

  choose(source: SourceView, nodeId: string | null): Promise<Answer<SourceView & Problem>> {
    return this.house.patch(`/api/sources/${source.id}`, source.version, { nodeId });
  }

  async stop(): Promise<void> {
    this.quay.close();
    this.hill.close();
    await this.server.stop();
  }
}

/** What a node is wanted to do, once that is as described. */
export const stateOf = (node: NodeClient, holds: (state: DesiredState) => boolean): Promise<DesiredState> =>
  until(() => node.desired && holds(node.desired) && node.desired, 'the desired state');

/** A source that is connected to a node; at no frames a second nothing comes by that. */
export const arriving = (source: SourceView, frameRateFps = 25): SourceFigures => ({
  sourceId: source.id,
  report: {
    sinceMs: Date.now(),
    remoteAddress: '10.0.0.9',
    protocol: 'rtmp',
    transport: null,
    encoder: 'Box',
    video: {
      codec: 'avc1.64001f',
      widthPx: 1280,
      heightPx: 720,
      frameRateFps,
      bitrateBps: frameRateFps * 100_000,
      keyframeIntervalMs: 2000,
      announcedFps: null,
      timing: NO_TIMING,
      blackMs: 0,
      frozenMs: 0,
    },
    audio: null,
  },
  pictureTakenAtMs: Date.now(),
});
