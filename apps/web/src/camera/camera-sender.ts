import {
  CAMERA_TYPES,
  type CameraBacklog,
  type CameraItem,
  confirm,
  EMPTY_BACKLOG,
  isForgotten,
  keepItem,
  type KeptItem,
  type ToCamera,
  type ToNode,
  writePiece,
} from '@heliphon/core/ingest/camera-protocol';
import type { PictureSize } from '@heliphon/core/ladder/picture-sizes';
import type { PointWay } from '@heliphon/contracts/nodes';
import { randomId } from '../data/random-id.js';
import { isReached } from './points.js';

/** Where the picture of this browser is. */
export type SendingState =
  | { readonly status: 'idle' }
  | { readonly status: 'connecting' }
  | { readonly status: 'sending' }
  /** The network is away; what is recorded meanwhile is kept. */
  | { readonly status: 'away'; readonly sinceMs: number }
  | { readonly status: 'stopped'; readonly why: StopReason };

/** Why it stopped: on purpose, because the node said so, or because something here cannot go on. */
export const STOP_REASONS = [
  'by-hand',
  'unknown-line',
  'line-over',
  'already-sending',
  'container',
  'video-codec',
  'too-many-tries',
  'away-too-long',
  'recorder',
] as const;
export type StopReason = (typeof STOP_REASONS)[number] | (string & {});

export interface SenderSettings {
  /** Media nodes that take it; the nearest first. */
  readonly points: readonly PointWay[];
  readonly token: string;
  /** What this browser calls itself. */
  readonly device: string;
  readonly size: PictureSize;
}

const PIECE_MS = 100;
const KEYFRAME_MS = 2000;
/** Pieces that nobody confirms for so long went nowhere. */
const UNHEARD_MS = 4000;
/** What was recorded before a stop has so long to arrive, also over a network that is away just then. */
const ARRIVES_WITHIN_MS = 10_000;
/** Away for so long, it looks whether the node has gone rather than the network. */
const LOOK_ELSEWHERE_MS = 4000;
/** A token has just been given out: until then a node that does not know it has not heard of it yet. */
const NEWS_TRAVELS_MS = 30_000;
const REDIAL_MS = { first: 500, most: 2000 } as const;

/** The container this browser records in; `null` where it has no H.264. */
export const recordingType = (): string | null =>
  typeof MediaRecorder === 'undefined'
    ? null
    : (CAMERA_TYPES.find((type) => MediaRecorder.isTypeSupported(type)) ?? null);

/** Records a stream and sends it to the media node, across breaks of the network, until it is stopped. */
export class CameraSender {
  readonly #sessionId = randomId();
  #stream: MediaStream | null = null;
  #backlog: CameraBacklog = EMPTY_BACKLOG;
  #socket: WebSocket | null = null;
  #isReady = false;
  #wasReady = false;
  #point: PointWay;
  #recorder: MediaRecorder | null = null;
  /** Pieces become bytes one after another. */
  #reading: Promise<void> = Promise.resolve();
  #redialMs: number = REDIAL_MS.first;
  #redial: number | null = null;
  readonly #bornAtMs = performance.now();
  #heardAtMs = this.#bornAtMs;
  #state: SendingState = { status: 'idle' };
  readonly #watch: number;
  readonly #lifetime = new AbortController();

  constructor(
    private readonly settings: SenderSettings,
    private readonly onState: (state: SendingState) => void,
  ) {
    this.#point = settings.points[0]!;
    this.#watch = window.setInterval(() => this.#lookForSilence(), 1000);
    const { signal } = this.#lifetime;
    window.addEventListener('online', () => this.#dial(), { signal });
    window.addEventListener('offline', () => this.#lose(), { signal });
  }

  /** Records a stream from now on, in place of an earlier one. */
  record(stream: MediaStream): void {
    const mimeType = recordingType();
    if (!mimeType) return this.#end('container');
    this.#stopRecorder();
    this.#stream = stream;
    try {
      const recorder = new MediaRecorder(stream, {
        mimeType,
        videoBitsPerSecond: this.settings.size.videoBitrateBps,
        audioBitsPerSecond: this.settings.size.audioBitrateBps,
        // Newer than the types: a keyframe so often.
        ...({ videoKeyFrameIntervalDuration: KEYFRAME_MS } as object),
      });
      this.#recorder = recorder;
      this.#inOrder(() => this.#keep({ kind: 'begin', mimeType }));
      // The last word of a recorder that was put aside belongs to nothing any more.
      recorder.addEventListener('dataavailable', ({ data }) => {
        if (this.#recorder === recorder) this.#take(data);
      });
      recorder.addEventListener('error', () => this.#end('recorder'));
      recorder.start(PIECE_MS);
    } catch {
      return this.#end('recorder');
    }
    if (!this.#socket) this.#dial();
  }

  /** Stops on purpose; what was recorded before still arrives. */
  async stop(): Promise<void> {
    const recorder = this.#recorder;
    if (recorder && recorder.state !== 'inactive') {
      const stopped = new Promise((resolve) => recorder.addEventListener('stop', resolve, { once: true }));
      recorder.stop();
      await stopped;
    }
    this.#inOrder(() => this.#keep({ kind: 'end' }));
    await this.#reading;
    const deadline = performance.now() + ARRIVES_WITHIN_MS;
    while (this.#backlog.kept.length > 0 && performance.now() < deadline && !this.#lifetime.signal.aborted)
      await new Promise((resolve) => window.setTimeout(resolve, 100));
    this.#end('by-hand');
  }

  /** Lets go of everything, as when the page closes. */
  dispose(): void {
    this.#stopRecorder();
    this.#end('by-hand');
  }

  #take(data: Blob): void {
    if (data.size === 0) return;
    this.#inOrder(async () => this.#keep({ kind: 'piece', bytes: new Uint8Array(await data.arrayBuffer()) }));
  }

  #inOrder(work: () => void | Promise<void>): void {
    this.#reading = this.#reading.then(work);
  }

  #keep(item: CameraItem): void {
    if (this.#lifetime.signal.aborted) return;
    const kept = keepItem(this.#backlog, item);
    if (kept === 'full') return this.#end('away-too-long');
    this.#backlog = kept;
    if (this.#isReady) this.#send(kept.kept.at(-1)!);
  }

  #send({ seq, item }: KeptItem): void {
    const socket = this.#socket!;
    if (item.kind === 'piece') return socket.send(writePiece(seq, item.bytes));
    const message: ToNode =
      item.kind === 'begin' ? { type: 'begin', seq, mimeType: item.mimeType } : { type: 'end', seq };
    socket.send(JSON.stringify(message));
  }

  #dial(): void {
    if (this.#lifetime.signal.aborted || this.#socket) return;
    if (this.#redial !== null) window.clearTimeout(this.#redial);
    if (this.#state.status === 'idle') this.#become({ status: 'connecting' });
    const { token, device } = this.settings;
    const socket = new WebSocket(this.#point.sendUrl);
    socket.binaryType = 'arraybuffer';
    this.#socket = socket;
    this.#heardAtMs = performance.now();
    socket.addEventListener('open', () => {
      const hello: ToNode = { type: 'send', token, sessionId: this.#sessionId, device };
      socket.send(JSON.stringify(hello));
    });
    socket.addEventListener('message', ({ data }) => {
      if (this.#socket === socket) this.#hear(JSON.parse(String(data)) as ToCamera);
    });
    socket.addEventListener('close', () => {
      if (this.#socket === socket) this.#lose();
    });
  }

  #hear(message: ToCamera): void {
    this.#heardAtMs = performance.now();
    switch (message.type) {
      case 'ready':
        this.#isReady = true;
        this.#wasReady = true;
        this.#redialMs = REDIAL_MS.first;
        this.#become({ status: 'sending' });
        if (isForgotten(this.#backlog, message.nextSeq)) return this.#startOver();
        this.#backlog = confirm(this.#backlog, message.nextSeq);
        for (const kept of this.#backlog.kept) this.#send(kept);
        return;
      case 'got':
        this.#backlog = confirm(this.#backlog, message.nextSeq);
        return;
      case 'refused':
        if (message.reason === 'unknown-line' && this.#isNews) return this.#redialSoon();
        return this.#end(message.reason);
      case 'received':
        return;
    }
  }

  get #isNews(): boolean {
    return !this.#wasReady && performance.now() - this.#bornAtMs < NEWS_TRAVELS_MS;
  }

  /** The node knows nothing of us any more, after a long sleep or a fall of its own: another recording, counted from the start. */
  #startOver(): void {
    this.#backlog = EMPTY_BACKLOG;
    if (this.#stream) this.record(this.#stream);
  }

  /** A network that has gone says nothing of it: pieces stay unheard. */
  #lookForSilence(): void {
    const isWaiting = this.#socket !== null && (this.#backlog.kept.length > 0 || !this.#isReady);
    if (isWaiting && performance.now() - this.#heardAtMs > UNHEARD_MS) this.#lose();
  }

  #lose(): void {
    this.#redialSoon();
    if (this.#lifetime.signal.aborted || this.#state.status === 'away') return;
    this.#become({ status: 'away', sinceMs: Date.now() });
  }

  #redialSoon(): void {
    const socket = this.#socket;
    this.#socket = null;
    this.#isReady = false;
    socket?.close();
    if (this.#lifetime.signal.aborted) return;
    if (this.#redial !== null) window.clearTimeout(this.#redial);
    this.#redial = window.setTimeout(() => void this.#dialWhereItAnswers(), this.#redialMs);
    this.#redialMs = Math.min(REDIAL_MS.most, this.#redialMs * 2);
  }

  /** A network that is away is waited for, and everything recorded meanwhile goes where it was to go; a node that is gone is not. */
  async #dialWhereItAnswers(): Promise<void> {
    const isLong = this.#state.status === 'away' && Date.now() - this.#state.sinceMs > LOOK_ELSEWHERE_MS;
    if (isLong && this.settings.points.length > 1) {
      const answers = await Promise.all(this.settings.points.map(isReached));
      const others = this.settings.points.filter((_, index) => answers[index]);
      if (!others.includes(this.#point)) this.#point = others[0] ?? this.#point;
    }
    this.#dial();
  }

  #stopRecorder(): void {
    const recorder = this.#recorder;
    this.#recorder = null;
    if (recorder && recorder.state !== 'inactive') recorder.stop();
  }

  #end(why: StopReason): void {
    if (this.#lifetime.signal.aborted) return;
    this.#lifetime.abort();
    window.clearInterval(this.#watch);
    if (this.#redial !== null) window.clearTimeout(this.#redial);
    this.#stopRecorder();
    this.#isReady = false;
    this.#socket?.close();
    this.#socket = null;
    this.#become({ status: 'stopped', why });
  }

  #become(state: SendingState): void {
    this.#state = state;
    this.onState(state);
  }
}
