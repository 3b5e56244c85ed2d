import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createServer, type Server, type Socket } from 'node:net';
import { createServer as createTlsServer } from 'node:tls';
import { keyframeToAnnexB } from '@heliphon/core/ingest/annex-b';
import { parseVideoTag } from '@heliphon/core/ingest/flv-tags';
import { RtmpServerSession, type SessionSignal } from '@heliphon/core/ingest/rtmp-server-session';
import { readStrip, stripCentres } from '@heliphon/core/signal/code-strip';

/** What becomes of one who wants to send. */
export type Admission =
  | { readonly isTaken: false; readonly words: string }
  | { readonly isTaken: true; readonly reads: boolean; readonly closesAfterMs: number | null };

/** PEM texts, for a receiver that is only to be reached over TLS. */
export interface Certificate {
  readonly cert: string;
  readonly key: string;
}

export interface Arrival {
  readonly isLive: boolean;
  readonly connections: number;
  readonly receivedBytes: number;
  readonly lastByteAtMs: number | null;
}

interface Stream {
  live: Socket | null;
  connections: number;
  receivedBytes: number;
  lastByteAtMs: number | null;
  avcConfig: Uint8Array | null;
  keyframe: Uint8Array | null;
}

/** Takes programmes in over RTMP, or RTMPS, and can show the newest picture of each. */
export class StreamReceiver {
  readonly #streams = new Map<string, Stream>();
  readonly #sockets = new Set<Socket>();
  readonly #server: Server;

  /** @param admit - asked for each stream that somebody wants to send, by its name. */
  constructor(
    private readonly admit: (streamName: string) => Admission,
    certificate: Certificate | null = null,
  ) {
    const welcome = (socket: Socket): void => this.#welcome(socket);
    this.#server = certificate ? createTlsServer(certificate, welcome) : createServer(welcome);
  }

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

  /** What came of a stream so far. */
  arrivalOf(streamName: string): Arrival {
    const { live, connections, receivedBytes, lastByteAtMs } = this.#streamOf(streamName);
    return { isLive: live !== null, connections, receivedBytes, lastByteAtMs };
  }

  get streamNames(): string[] {
    return [...this.#streams.keys()];
  }

  /** Hangs up on who sends this. */
  cut(streamName: string): void {
    this.#streams.get(streamName)?.live?.destroy();
  }

  /** The number in the newest keyframe's code strip. */
  async frameNumber(streamName: string): Promise<number | null> {
    const raw = await this.#decode(streamName, ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', '1280x720']);
    if (!raw || raw.byteLength < 1280 * 720) return null;
    return readStrip(
      stripCentres().map(({ x, y }) => raw[Math.floor(y * 720) * 1280 + Math.floor(x * 1280)]!),
    );
  }

  /** The newest keyframe as JPEG. */
  picture(streamName: string): Promise<Buffer | null> {
    return this.#decode(streamName, ['-vf', 'scale=640:-2', '-f', 'mjpeg']);
  }

  #streamOf(name: string): Stream {
    const known = this.#streams.get(name);
    if (known) return known;
    const stream: Stream = {
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
          const admission = this.admit(signal.streamName);
          if (!admission.isTaken) {
            obey(session.refusePublish(admission.words));
            continue;
          }
          stream = asked;
          stream.live = socket;
          stream.connections += 1;
          obey(session.acceptPublish());
          if (!admission.reads) socket.pause();
          if (admission.closesAfterMs !== null)
            setTimeout(() => socket.destroy(), admission.closesAfterMs).unref();
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
