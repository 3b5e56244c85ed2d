import { type ChildProcess, spawn } from 'node:child_process';
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { WebSocket } from 'ws';
import type { DesiredSource } from '@heliphon/core/control/desired-state';
import {
  CAMERA_PATH,
  type CameraItem,
  confirm,
  EMPTY_BACKLOG,
  keepItem,
  type ToCamera,
  type ToNode,
  writePiece,
} from '@heliphon/core/ingest/camera-protocol';

const HOUR_MS = 3_600_000;

export const newToken = (): string => randomBytes(20).toString('hex');

export const lineOf = (token: string, untilMs = Date.now() + HOUR_MS): DesiredSource['lines'][number] => ({
  sha256Hex: createHash('sha256').update(token).digest('hex'),
  untilMs,
});

/** A browser with a camera, as far as a media node sees it: records with ffmpeg, keeps what is not confirmed. */
export class CameraDriver {
  readonly heard: ToCamera[] = [];
  readonly #sessionId = randomUUID();
  #backlog = EMPTY_BACKLOG;
  #socket: WebSocket | null = null;
  #isReady = false;
  #recorder: ChildProcess | null = null;

  constructor(
    private readonly origin: string,
    private readonly token: string,
  ) {}

  get address(): string {
    return this.origin.replace('http', 'ws') + CAMERA_PATH;
  }

  get refusal(): string | undefined {
    return this.heard.flatMap((message) => (message.type === 'refused' ? [message.reason] : []))[0];
  }

  get isDialled(): boolean {
    return this.#socket?.readyState === WebSocket.OPEN;
  }

  get isConfirmed(): boolean {
    return this.#backlog.kept.length === 0;
  }

  /** Plugs the network in. */
  connect(): void {
    const socket = new WebSocket(this.address);
    this.#socket = socket;
    socket.on('open', () =>
      this.#say({ type: 'send', token: this.token, sessionId: this.#sessionId, device: 'Test' }),
    );
    socket.on('error', () => undefined);
    socket.on('message', (data) => {
      const message = JSON.parse(String(data)) as ToCamera;
      this.heard.push(message);
      if (message.type !== 'ready' && message.type !== 'got') return;
      this.#backlog = confirm(this.#backlog, message.nextSeq);
      if (message.type !== 'ready') return;
      this.#isReady = true;
      for (const { seq, item } of this.#backlog.kept) this.#send(seq, item);
    });
  }

  /** Pulls the network out; what is recorded meanwhile is kept. */
  disconnect(): void {
    this.#isReady = false;
    this.#socket?.terminate();
    this.#socket = null;
  }

  /** Records a moving picture with sound from now on. */
  record(
    picture = '-c:v libx264 -preset ultrafast -tune zerolatency -g 50 -pix_fmt yuv420p',
    mimeType = 'video/x-matroska;codecs=avc1,opus',
    size = '320x180',
  ): void {
    this.#recorder?.kill('SIGKILL');
    this.#keep({ kind: 'begin', mimeType });
    const input = `-re -f lavfi -i testsrc2=size=${size}:rate=25 -re -f lavfi -i sine=frequency=440:sample_rate=48000`;
    const output = '-c:a libopus -ac 2 -f matroska -live 1 -cluster_time_limit 100 -flush_packets 1 pipe:1';
    const recorder = spawn('ffmpeg', ['-v', 'error', ...`${input} ${picture} ${output}`.split(' ')], {
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    this.#recorder = recorder;
    recorder.stdout.on('data', (bytes: Buffer) =>
      this.#keep({ kind: 'piece', bytes: new Uint8Array(bytes) }),
    );
  }

  /** Stops on purpose. */
  stop(): void {
    this.#recorder?.kill('SIGKILL');
    this.#keep({ kind: 'end' });
  }

  close(): void {
    this.#recorder?.kill('SIGKILL');
    this.disconnect();
  }

  #keep(item: CameraItem): void {
    const kept = keepItem(this.#backlog, item);
    if (kept === 'full') throw new Error('Too much to keep');
    this.#backlog = kept;
    if (this.#isReady) this.#send(kept.nextSeq - 1, item);
  }

  #send(seq: number, item: CameraItem): void {
    if (item.kind === 'piece') this.#socket?.send(writePiece(seq, item.bytes));
    else if (item.kind === 'begin') this.#say({ type: 'begin', seq, mimeType: item.mimeType });
    else this.#say({ type: 'end', seq });
  }

  #say(message: ToNode): void {
    this.#socket?.send(JSON.stringify(message));
  }
}
