import type { QuickRun } from '@heliphon/contracts/quick';
import { heldBack, type Hold } from './quick-pace.js';

export interface QuickState {
  readonly status: 'waiting' | 'playing' | 'unsupported';
  /** The instant of the programme that is shown; `null` while nothing is. */
  readonly dateMs: number | null;
}

export const UNSUPPORTED: QuickState = { status: 'unsupported', dateMs: null };

interface QuickEvents {
  changed(state: QuickState): void;
  /** The address has run out, or the event goes on elsewhere: ask for another. */
  lost(): void;
}

const LOOK_EVERY_MS = 100;
/** When nothing has come for this long, the line is dead, or the event goes on at another node. */
const SILENT_MS = 6000;
const KEPT_BEHIND_SECONDS = 8;

/** Telephones of one maker have no media source extensions that a page may feed. */
export const canPlayQuick = (): boolean => 'MediaSource' in window;

/** Plays a programme picture by picture as it arrives, through a WebSocket and Media Source Extensions. */
export class QuickPicture {
  readonly #socket: WebSocket;
  readonly #source = new MediaSource();
  readonly #url = URL.createObjectURL(this.#source);
  /** Bytes in their order, and of what type those behind are. */
  readonly #waiting: (ArrayBuffer | string)[] = [];
  readonly #looking: number;
  #buffer: SourceBuffer | null = null;
  #run: QuickRun | null = null;
  #heardAtMs = performance.now();
  #isClosed = false;

  /** @param address - of the desk's live playlist: the quick picture stands beside it. */
  constructor(
    private readonly video: HTMLVideoElement,
    address: string,
    private readonly events: QuickEvents,
  ) {
    video.src = this.#url;
    video.onerror = () => this.#fail();
    this.#socket = new WebSocket(address.replace(/^http/, 'ws').replace(/[^/]*$/, 'quick'));
    this.#socket.binaryType = 'arraybuffer';
    this.#socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => this.#take(data);
    this.#socket.onclose = () => this.#fail();
    this.#looking = window.setInterval(() => this.#look(), LOOK_EVERY_MS);
  }

  close(): void {
    this.#isClosed = true;
    this.video.onerror = null;
    window.clearInterval(this.#looking);
    this.#socket.close();
    this.video.removeAttribute('src');
    this.video.load();
    URL.revokeObjectURL(this.#url);
  }

  /** What is shown cannot go on: its line broke, or it could not be decoded. */
  #fail(): void {
    if (this.#isClosed) return;
    this.close();
    this.events.lost();
  }

  #take(data: string | ArrayBuffer): void {
    this.#heardAtMs = performance.now();
    if (typeof data !== 'string') {
      this.#waiting.push(data);
      return this.#append();
    }
    this.#run = JSON.parse(data) as QuickRun;
    const type = `video/mp4; codecs="${this.#run.codecs}"`;
    if (!MediaSource.isTypeSupported(type)) {
      this.close();
      return this.events.changed(UNSUPPORTED);
    }
    if (this.#buffer) return void this.#waiting.push(type);
    const open = (): void => {
      if (this.#isClosed || this.#buffer) return;
      this.#buffer = this.#source.addSourceBuffer(type);
      this.#buffer.addEventListener('updateend', () => this.#append());
      this.#append();
    };
    if (this.#source.readyState === 'open') open();
    else this.#source.addEventListener('sourceopen', open, { once: true });
  }

  #append(): void {
    const buffer = this.#buffer;
    if (!buffer || buffer.updating || this.#isClosed) return;
    let next = this.#waiting.shift();
    for (; typeof next === 'string'; next = this.#waiting.shift()) buffer.changeType(next);
    if (next) return buffer.appendBuffer(next);
    const { buffered } = buffer;
    const oldest = buffered.length > 0 ? buffered.start(0) : Infinity;
    if (this.video.currentTime - oldest > 2 * KEPT_BEHIND_SECONDS)
      buffer.remove(0, this.video.currentTime - KEPT_BEHIND_SECONDS);
  }

  #look(): void {
    const { video } = this;
    if (performance.now() - this.#heardAtMs > SILENT_MS) return this.#fail();
    const { buffered } = video;
    const last = buffered.length - 1;
    if (last >= 0) this.#keepUp(heldBack(video.currentTime, [buffered.start(last), buffered.end(last)]));
    const isMoving = video.readyState >= HTMLMediaElement.HAVE_CURRENT_DATA && this.#run !== null;
    this.events.changed({
      status: isMoving ? 'playing' : 'waiting',
      dateMs: isMoving ? this.#run!.startsAtUtcMs + video.currentTime * 1000 : null,
    });
  }

  #keepUp({ seekTo, rate }: Hold): void {
    if (seekTo !== null) this.video.currentTime = seekTo;
    if (this.video.playbackRate !== rate) this.video.playbackRate = rate;
    if (this.video.paused) void this.video.play().catch(() => undefined);
  }
}
