import { createSocket, type Socket } from 'node:dgram';
import type { SourceEnding } from '@heliphon/core/control/observations';
import { RTCPeerConnection, RTCRtpCodecParameters, type RTCRtpTransceiver } from 'werift';
import { describeStreams, type RelayedStream, withBundledOpen } from '@heliphon/core/ingest/whip-sdp';
import type { Clock } from '../clock.js';
import type { Child, ChildProcesses } from '../processes/child-processes.js';
import { feedFromFlv } from './flv-feed.js';
import type { SourceConnection } from './source-connection.js';

/** A keyframe is asked for so often: a reader that begins again waits no longer. */
const KEYFRAME_EVERY_MS = 2000;
/** A caller that has made its offer and does not come by then is given up. */
const CONNECT_MS = 15_000;
/** The picture goes on as it came, from its first keyframe on; the sound is made AAC. */
const READ =
  '-nostdin -v error -protocol_whitelist pipe,udp,rtp -fflags nobuffer -fpsprobesize 0 -probesize 5000000 -analyzeduration 10000000 -reorder_queue_size 64 -max_delay 200000 -f sdp -i pipe:0 -map 0:v:0? -map 0:a:0? -c:v copy -c:a aac -b:a 128k -ar 48000 -ac 2 -flush_packets 1 -f flv -flvflags no_duration_filesize pipe:1';

const VIDEO = new RTCRtpCodecParameters({
  mimeType: 'video/H264',
  clockRate: 90_000,
  rtcpFeedback: [{ type: 'nack' }, { type: 'nack', parameter: 'pli' }],
  parameters: 'profile-level-id=42e01f;packetization-mode=1;level-asymmetry-allowed=1',
});
const AUDIO = new RTCRtpCodecParameters({ mimeType: 'audio/opus', clockRate: 48_000, channels: 2 });

export interface WhipSettings {
  /** Where callers are answered from; on a server with a public address, that one. */
  readonly addresses: readonly string[];
  readonly portRange: [number, number] | undefined;
}

/** One encoder that speaks WHIP (RFC 9725): its packets are handed, over loopback, to a reader that orders them. */
export class WhipSession {
  readonly #peer: RTCPeerConnection;
  readonly #sockets = new Set<Socket>();
  #child: Child | null = null;
  #timer: NodeJS.Timeout | null = null;
  #giveUp: NodeJS.Timeout | null = null;
  #isOver = false;

  constructor(
    private readonly connection: SourceConnection,
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
    { addresses, portRange }: WhipSettings,
    private readonly onOver: (reason: SourceEnding) => void,
  ) {
    this.#peer = new RTCPeerConnection({
      codecs: { video: [VIDEO], audio: [AUDIO] },
      bundlePolicy: 'max-bundle',
      iceServers: [],
      iceUseIpv6: false,
      iceUseTcp: false,
      iceAdditionalHostAddresses: [...addresses],
      ...(portRange ? { icePortRange: portRange } : {}),
    });
  }

  /** @returns our answer. @throws Error for an offer that cannot be read */
  async answer(offer: string): Promise<string> {
    this.#giveUp = setTimeout(() => this.over('never-came'), CONNECT_MS);
    this.#peer.connectionStateChange.subscribe((state) => {
      if (state === 'connected' && this.#giveUp) clearTimeout(this.#giveUp);
      if (state === 'failed' || state === 'closed' || state === 'disconnected') this.over('connection-broke');
    });
    await this.#peer.setRemoteDescription({ type: 'offer', sdp: withBundledOpen(offer) });
    const transceivers = this.#peer.getTransceivers();
    for (const transceiver of transceivers) transceiver.setDirection('recvonly');
    await this.#peer.setLocalDescription(await this.#peer.createAnswer());
    await this.#read(transceivers);
    return this.#peer.localDescription!.sdp;
  }

  over(reason: SourceEnding): void {
    if (this.#isOver) return;
    this.#isOver = true;
    if (this.#giveUp) clearTimeout(this.#giveUp);
    if (this.#timer) clearInterval(this.#timer);
    const child = this.#child;
    this.#child = null;
    child?.kill();
    for (const socket of this.#sockets) socket.close();
    void this.#peer.close();
    this.onOver(reason);
  }

  async #read(transceivers: readonly RTCRtpTransceiver[]): Promise<void> {
    const streams: RelayedStream[] = [];
    const out = createSocket('udp4');
    this.#sockets.add(out);
    for (const transceiver of transceivers) {
      const codec = transceiver.codecs[0];
      if (!codec || (transceiver.kind !== 'video' && transceiver.kind !== 'audio')) continue;
      const port = await freePair();
      streams.push({ kind: transceiver.kind, port, payloadType: codec.payloadType });
      // The track stands since the offer was read.
      const { receiver } = transceiver;
      receiver.track.onReceiveRtp.subscribe((packet) => {
        if (!this.#isOver) out.send(packet.serialize(), port, '127.0.0.1');
      });
      // With these the reader brings picture and sound together.
      receiver.onRtcp.subscribe((packet) => {
        if (!this.#isOver) out.send(packet.serialize(), port + 1, '127.0.0.1');
      });
    }
    const child = this.children.start({ purpose: 'whip', command: 'ffmpeg', args: READ.split(' ') });
    this.#child = child;
    child.stdin.end(describeStreams(streams));
    feedFromFlv(child.stdout, this.connection, this.clock);
    void child.ended.then(() => {
      if (this.#child === child) this.over('unreadable');
    });
    this.#timer = setInterval(() => this.#askKeyframe(transceivers), KEYFRAME_EVERY_MS);
  }

  #askKeyframe(transceivers: readonly RTCRtpTransceiver[]): void {
    for (const { kind, receiver } of transceivers) {
      const ssrc = receiver.tracks.find((track) => track.ssrc !== undefined)?.ssrc;
      if (kind === 'video' && ssrc !== undefined) void receiver.sendRtcpPLI(ssrc);
    }
  }
}

/** Two ports beside each other, the first even, as RTP and its reports take them (RFC 3550, 11). */
async function freePair(): Promise<number> {
  for (;;) {
    const port = await portOf(0);
    const even = port % 2 === 0 ? port : port + 1;
    const both = await Promise.all([portOf(even), portOf(even + 1)]).catch(() => null);
    if (both) return even;
  }
}

function portOf(wanted: number): Promise<number> {
  return new Promise((resolve, reject) => {
    const socket = createSocket('udp4');
    socket.once('error', reject);
    socket.bind(wanted, '127.0.0.1', () => {
      const { port } = socket.address();
      socket.close(() => resolve(port));
    });
  });
}
