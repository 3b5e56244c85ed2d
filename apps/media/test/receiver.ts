import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { concatBytes } from '@heliphon/core/bytes';
import { flvHeader, flvTag } from '@heliphon/core/ingest/flv-tags';
import { RtmpServerSession, type SessionSignal } from '@heliphon/core/ingest/rtmp-server-session';

const run = promisify(execFile);

/** What came in one connection. */
interface Session {
  readonly tags: Uint8Array[];
  /** Decode times of its pictures, in its own ms. */
  readonly pictureMs: number[];
  readonly soundMs: number[];
  /** How often a header of the picture came. */
  headers: number;
}

/** A place that takes the programme in and keeps it, refuses its key, or takes the connection and reads no more. */
export class Receiver {
  mode: 'accept' | 'refuse' | 'stall' = 'accept';
  videoBytes = 0;
  readonly sessions: Session[] = [];
  readonly #sockets = new Set<Socket>();
  readonly #server: Server = createServer((socket) => this.#welcome(socket));

  async listen(): Promise<string> {
    await new Promise<void>((resolve) => this.#server.listen(0, '127.0.0.1', resolve));
    return `rtmp://127.0.0.1:${(this.#server.address() as AddressInfo).port}/live/key`;
  }

  close(): void {
    for (const socket of this.#sockets) socket.destroy();
    this.#server.close();
  }

  /** Of the newest connection. */
  get session(): Session | undefined {
    return this.sessions.at(-1);
  }

  get lastTimestampMs(): number {
    return this.session?.pictureMs.at(-1) ?? 0;
  }

  /** What ffmpeg complains of when it decodes a session whole. */
  async decoded(session = this.session!): Promise<{ readonly frames: number; readonly words: string }> {
    const folder = await mkdtemp(join(tmpdir(), 'heliphon-received-'));
    try {
      const file = join(folder, 'session.flv');
      await writeFile(file, concatBytes([flvHeader({ video: true, audio: true }), ...session.tags]));
      // Pictures by their own times, and not by those of a frame rate that is guessed.
      const times = ['-fps_mode', 'passthrough', '-enc_time_base:v', '1/1000'];
      const { stderr } = await run('ffmpeg', ['-i', file, '-map', '0', ...times, '-f', 'null', '-']);
      const complaints = stderr.split('\n').filter((line) => /error|invalid|non-monoton|corrupt/i.test(line));
      return {
        frames: Number([...stderr.matchAll(/frame=\s*(\d+)/g)].at(-1)?.[1] ?? 0),
        words: complaints.join('\n'),
      };
    } finally {
      await rm(folder, { recursive: true });
    }
  }

  #welcome(socket: Socket): void {
    this.#sockets.add(socket);
    const session = new RtmpServerSession(new Uint8Array(1528));
    const kept: Session = { tags: [], pictureMs: [], soundMs: [], headers: 0 };
    const obey = (signals: readonly SessionSignal[]): void => {
      for (const signal of signals) {
        if (signal.type === 'send') socket.write(signal.bytes);
        if (signal.type === 'connect-asked') obey(session.acceptConnect());
        if (signal.type === 'close') setTimeout(() => socket.destroy(), signal.afterMs);
        if (signal.type === 'media') this.#keep(kept, signal);
        if (signal.type === 'publish-asked') {
          if (this.mode === 'refuse') return obey(session.refusePublish('No such key'));
          this.sessions.push(kept);
          obey(session.acceptPublish());
          if (this.mode === 'stall') socket.pause();
        }
      }
    };
    socket.on('data', (bytes) => obey(session.receive(bytes)));
    socket.on('error', () => socket.destroy());
    socket.on('close', () => this.#sockets.delete(socket));
  }

  #keep(session: Session, signal: Extract<SessionSignal, { type: 'media' }>): void {
    const { kind, timestampMs, payload } = signal;
    if (kind !== 'video' && kind !== 'audio') return;
    session.tags.push(flvTag(kind, timestampMs, payload));
    const isHeader = payload[1] === 0;
    if (kind === 'audio') return void (isHeader || session.soundMs.push(timestampMs));
    this.videoBytes += payload.byteLength;
    if (isHeader) session.headers += 1;
    else session.pictureMs.push(timestampMs);
  }
}

/** What lies between one and the next. */
export const stepsOf = (times: readonly number[]): number[] =>
  times.slice(1).map((time, index) => time - times[index]!);
