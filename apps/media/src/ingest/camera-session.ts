import type { WebSocket } from 'ws';
import type { SourceEnding, SourceRefusalReason } from '@heliphon/core/control/observations';
import {
  CAMERA_LIMITS,
  type CameraContainer,
  containerOf,
  orderOf,
  type ToCamera,
} from '@heliphon/core/ingest/camera-protocol';
import type { Clock } from '../clock.js';
import type { Child, ChildProcesses } from '../processes/child-processes.js';
import { feedFromFlv } from './flv-feed.js';
import type { SourceConnection } from './source-connection.js';

/** What has come is confirmed at most so often. */
const CONFIRM_EVERY_MS = 200;
/** The picture goes on as it was recorded; only the sound is made AAC. */
const TO_FLV =
  '-map 0:v:0? -map 0:a:0? -c:v copy -c:a aac -b:a 128k -ar 48000 -ac 2 -flush_packets 1 -f flv -flvflags no_duration_filesize pipe:1';

const inputOf = (container: CameraContainer): string =>
  `-nostdin -v error -fflags nobuffer -probesize 65536 -analyzeduration 0 -f ${container === 'matroska' ? 'matroska' : 'mov'} -i pipe:0`;

export interface CameraSessionPorts {
  readonly clock: Clock;
  readonly children: ChildProcesses;
  /** Called once, when it is over for good. */
  readonly onOver: (reason: SourceEnding) => void;
}

/** One browser that sends: outlives its WebSocket, so that a change of network loses nothing that was recorded. */
export class CameraSession {
  #nextSeq = 0;
  #socket: WebSocket | null = null;
  #child: Child | null = null;
  #away: NodeJS.Timeout | null = null;
  #confirming: NodeJS.Timeout | null = null;
  #isOver = false;

  constructor(
    private readonly connection: SourceConnection,
    private readonly ports: CameraSessionPorts,
  ) {}

  /** Takes a socket of this session; an earlier one, which may hang half open, is let go. */
  attach(socket: WebSocket): void {
    const before = this.#socket;
    this.#socket = socket;
    before?.terminate();
    if (this.#away) clearTimeout(this.#away);
    this.#away = null;
    this.#say({ type: 'ready', nextSeq: this.#nextSeq });
  }

  /** A socket is gone; the session waits for the next one. */
  detach(socket: WebSocket): void {
    if (this.#socket !== socket || this.#isOver) return;
    this.#socket = null;
    this.#away = setTimeout(() => this.over('did-not-come-back'), CAMERA_LIMITS.awayMs);
  }

  begin(seq: number, mimeType: string): void {
    if (!this.#isNext(seq)) return;
    const container = containerOf(mimeType);
    if (container) this.#read(container);
    else this.refuse('container');
  }

  piece(seq: number, bytes: Uint8Array): void {
    if (!this.#isNext(seq)) return;
    const input = this.#child?.stdin;
    if (!input?.writable || input.write(bytes)) return;
    const socket = this.#socket;
    socket?.pause();
    input.once('drain', () => socket?.resume());
  }

  end(seq: number): void {
    if (this.#isNext(seq)) this.over('encoder-stopped');
  }

  /** Shows the browser out, and tells it why. */
  refuse(reason: SourceRefusalReason): void {
    this.#say({ type: 'refused', reason });
    this.over('turned-away');
  }

  over(reason: SourceEnding): void {
    if (this.#isOver) return;
    this.#isOver = true;
    if (this.#away) clearTimeout(this.#away);
    if (this.#confirming) clearTimeout(this.#confirming);
    this.#stopReading();
    this.#say({ type: 'got', nextSeq: this.#nextSeq });
    this.#socket?.close();
    this.ports.onOver(reason);
  }

  /** A piece that came before is passed over; a gap is a sender that lost count, and is shown out. */
  #isNext(seq: number): boolean {
    const order = orderOf(this.#nextSeq, seq);
    if (order === 'gap') this.over('pieces-missing');
    if (order !== 'next') return false;
    this.#nextSeq += 1;
    this.#confirming ??= setTimeout(() => {
      this.#confirming = null;
      this.#say({ type: 'got', nextSeq: this.#nextSeq });
    }, CONFIRM_EVERY_MS);
    return true;
  }

  /** Every recorder of the browser has a reader of its own: another camera may come in another size. */
  #read(container: CameraContainer): void {
    this.#stopReading();
    const child = this.ports.children.start({
      purpose: 'camera',
      command: 'ffmpeg',
      args: [...inputOf(container).split(' '), ...TO_FLV.split(' ')],
    });
    this.#child = child;
    feedFromFlv(child.stdout, this.connection, this.ports.clock);
    void child.ended.then(() => {
      if (this.#child === child) this.over('unreadable');
    });
  }

  #stopReading(): void {
    const child = this.#child;
    this.#child = null;
    child?.stdout.removeAllListeners('data');
    child?.kill();
  }

  #say(message: ToCamera): void {
    if (this.#socket?.readyState === this.#socket?.OPEN) this.#socket?.send(JSON.stringify(message));
  }
}
