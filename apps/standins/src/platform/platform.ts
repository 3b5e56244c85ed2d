import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createServer, type Server, type Socket } from 'node:net';
import { keyframeToAnnexB } from '@heliphon/core/ingest/annex-b';
import { parseVideoTag } from '@heliphon/core/ingest/flv-tags';
import { RtmpServerSession, type SessionSignal } from '@heliphon/core/ingest/rtmp-server-session';
import { readStrip, stripCentres } from '@heliphon/core/signal/code-strip';

/** How a platform treats a stream: takes it, refuses its key, takes the connection and reads nothing, or hangs up after a while. */
export const PLATFORM_MODES = ['accept', 'refuse', 'stall', 'close'] as const;
const CLOSE_AFTER_MS = 5000;
export type PlatformMode = (typeof PLATFORM_MODES)[number];

export interface ReceivedStream {
  readonly streamName: string;
  readonly mode: PlatformMode;
  readonly isLive: boolean;
  readonly connections: number;
  readonly receivedBytes: number;
  readonly lastByteAtMs: number | null;
}

interface Stream {
  mode: PlatformMode;
  live: Socket | null;
  connections: number;
  receivedBytes: number;
  lastByteAtMs: number | null;
  avcConfig: Uint8Array | null;
  keyframe: Uint8Array | null;
}

/** A social platform's side of the wire: takes the programme over RTMP and shows what came. */
export class PlatformStandIn {
  readonly #streams = new Map<string, Stream>();
  readonly #sockets = new Set<Socket>();
  readonly #server: Server = createServer((socket) => this.#welcome(socket));

  listen(port: number, host: string): Promise<void> {
    return new Promise((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, host, resolve);
    });
  }

  async close(): Promise<void> {
    for (const socket of this.#sockets) socket.destroy();
    await new Promise((resolve) => this.#server.close(resolve));
  }

  get streams(): ReceivedStream[] {
    return [...this.#streams].map(([streamName, stream]) => ({
      streamName,
      mode: stream.mode,
      isLive: stream.live !== null,
      connections: stream.connections,
      receivedBytes: stream.receivedBytes,
      lastByteAtMs: stream.lastByteAtMs,
    }));
  }

  /** From now on; a stream that is live is cut off, so that the sender meets the new mode. */
  setMode(streamName: string, mode: PlatformMode): void {
    const stream = this.#streamOf(streamName);
    stream.mode = mode;
    stream.live?.destroy();
  }

  /** The number in the newest keyframe's code strip. */
  async frameNumber(streamName: string): Promise<number | null> {
    const raw = await this.#decode(streamName, ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', '1280x720']);
    if (!raw || raw.byteLength < 1280 * 720) return null;
    return readStrip(
      stripCentres().map(({ x, y }) => raw[Math.floor(y * 720) * 1280 + Math.floor(x * 1280)]!),
    );
  }

  picture(streamName: string): Promise<Buffer | null> {
    return this.#decode(streamName, ['-vf', 'scale=640:-2', '-f', 'mjpeg']);
  }

  #streamOf(name: string): Stream {
    const known = this.#streams.get(name);
    if (known) return known;
    const stream: Stream = {
      mode: 'accept',
      live: null,
      connections: 0,
      receivedBytes: 0,
      lastByteAtMs: null,
      avcConfig: null,
      keyframe: null,
    };
    this.#streams.set(name, stream);
    return stream;
  }

  #welcome(socket: Socket): void {
    this.#sockets.add(socket);
    const session = new RtmpServerSession(randomBytes(1528));
    let stream: Stream | null = null;
    const obey = (signals: readonly SessionSignal[]): void => {
      for (const signal of signals) {
        if (signal.type === 'send') socket.write(signal.bytes);
        if (signal.type === 'connect-asked') obey(session.acceptConnect());
        if (signal.type === 'close') setTimeout(() => socket.destroy(), signal.afterMs);
        if (signal.type === 'media' && signal.kind === 'video' && stream) remember(stream, signal.payload);
        if (signal.type === 'publish-asked') {
          const asked = this.#streamOf(signal.streamName);
          if (asked.mode === 'refuse') {
            obey(session.refusePublish('This key is not valid any more'));
            continue;
          }
          stream = asked;
          stream.live = socket;
          stream.connections += 1;
          obey(session.acceptPublish());
          if (stream.mode === 'stall') socket.pause();
          if (stream.mode === 'close') setTimeout(() => socket.destroy(), CLOSE_AFTER_MS).unref();
        }
      }
    };
    socket.on('data', (bytes) => {
      if (stream) {
        stream.receivedBytes += bytes.byteLength;
        stream.lastByteAtMs = Date.now();
      }
      obey(session.receive(bytes));
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      this.#sockets.delete(socket);
      if (stream?.live === socket) stream.live = null;
    });
  }

  #decode(streamName: string, output: readonly string[]): Promise<Buffer | null> {
    const stream = this.#streams.get(streamName);
    if (!stream?.avcConfig || !stream.keyframe) return Promise.resolve(null);
    const annexB = keyframeToAnnexB(stream.avcConfig, stream.keyframe);
    return new Promise((resolve) => {
      const input = ['-v', 'error', '-f', 'h264', '-i', 'pipe:0', '-frames:v', '1'];
      const child = spawn('ffmpeg', [...input, ...output, 'pipe:1'], { stdio: ['pipe', 'pipe', 'ignore'] });
      const chunks: Buffer[] = [];
      child.stdout.on('data', (chunk: Buffer) => chunks.push(chunk));
      child.on('error', () => resolve(null));
      child.on('close', () => resolve(chunks.length > 0 ? Buffer.concat(chunks) : null));
      child.stdin.on('error', () => undefined); // ffmpeg stops reading once it has its frame
      child.stdin.end(annexB);
    });
  }
}

function remember(stream: Stream, payload: Uint8Array): void {
  const tag = parseVideoTag(payload);
  if (tag.type === 'config') stream.avcConfig = tag.avcConfig.slice();
  if (tag.type === 'frame' && tag.isKeyframe) stream.keyframe = tag.data.slice();
}
