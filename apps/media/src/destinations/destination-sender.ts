import { spawn, type ChildProcess } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import {
  type DestinationEvent,
  type DestinationReason,
  type DestinationState,
  nextDestinationState,
} from '@heliphon/core/destinations/destination-state';
import {
  aacConfigBody,
  aacFrameBody,
  avcConfigBody,
  avcFrameBody,
  flvHeader,
  flvMetadata,
  flvTag,
} from '@heliphon/core/ingest/flv-tags';
import type { Tracks } from '@heliphon/core/packaging/init-segment';
import type { SourceAudioFrame, SourceVideoFrame } from '@heliphon/core/packaging/packager';
import type { Clock } from '../clock.js';

/** What may wait for a slow place; beyond it, pictures are dropped up to the next keyframe. */
const QUEUE_BYTES = 2_500_000;
/** A place that takes nothing for so long, with the queue full, is given up and tried again. */
const STALLED_MS = 8000;
const STOP_GRACE_MS = 2000;
/** More than the opening handshake writes: the place is really taking the programme. */
const TAKEN_BYTES = 20_000;

/** Sends the programme to one place through one `ffmpeg -c copy`, and starts it again when it fails. */
export class DestinationSender {
  #state: DestinationState = { state: 'waiting' };
  #tracks: Tracks | null = null;
  #child: SenderProcess | null = null;
  #droppingSinceMs: number | null = null;

  constructor(
    readonly address: string,
    private readonly clock: Clock,
  ) {}

  get state(): DestinationState {
    return this.#state;
  }

  /** New codec parameters restart this sender alone, at the next keyframe. */
  configure(tracks: Tracks): void {
    const isSame = this.#tracks !== null && isSameConfiguration(this.#tracks, tracks);
    this.#tracks = tracks;
    if (!isSame) void this.#endChild();
  }

  video(atMs: number, frame: SourceVideoFrame): void {
    if (frame.isKeyframe) this.#startIfDue();
    const body = (): Uint8Array => flvTag('video', atMs, avcFrameBody(frame));
    this.#write(body, frame.isKeyframe);
  }

  audio(atMs: number, frame: SourceAudioFrame): void {
    this.#write(() => flvTag('audio', Math.max(0, atMs), aacFrameBody(frame.data)), false);
  }

  async stop(): Promise<void> {
    this.#apply({ type: 'stopped' });
    await this.#endChild();
  }

  #startIfDue(): void {
    const { state } = this.#state;
    if (this.#child || !this.#tracks || state === 'stopped') return;
    const nowMs = this.clock.nowMs();
    if (this.#state.state === 'troubled' && nowMs < this.#state.nextTryAtMs) return;
    this.#apply({ type: 'started', nowMs });
    const child = new SenderProcess(this.address, {
      tookBytes: () => this.#apply({ type: 'bytes-taken', nowMs: this.clock.nowMs() }),
      ended: (reason) => {
        if (this.#child !== child) return;
        this.#child = null;
        this.#apply({ type: 'failed', reason, nowMs: this.clock.nowMs() });
      },
    });
    this.#child = child;
    this.#droppingSinceMs = null;
    const { video, audio } = this.#tracks;
    child.write(flvHeader({ audio: audio !== null }));
    child.write(
      flvMetadata({
        width: video.widthPx,
        height: video.heightPx,
        videocodecid: 7,
        ...(audio
          ? { audiocodecid: 10, audiosamplerate: audio.sampleRateHz, stereo: audio.channels === 2 }
          : {}),
      }),
    );
    child.write(flvTag('video', 0, avcConfigBody(video.config)));
    if (audio) child.write(flvTag('audio', 0, aacConfigBody(audio.config)));
  }

  #write(tag: () => Uint8Array, isKeyframe: boolean): void {
    const child = this.#child;
    if (!child) return;
    const isFull = child.queuedBytes > QUEUE_BYTES;
    if (this.#droppingSinceMs === null && !isFull) return child.write(tag());
    const nowMs = this.clock.monotonicMs();
    if (!isFull && isKeyframe) {
      this.#droppingSinceMs = null;
      return child.write(tag());
    }
    this.#droppingSinceMs ??= nowMs;
    if (isFull && nowMs - this.#droppingSinceMs > STALLED_MS) child.kill('stalled');
  }

  async #endChild(): Promise<void> {
    const child = this.#child;
    this.#child = null;
    await child?.end();
  }

  #apply(event: DestinationEvent): void {
    this.#state = nextDestinationState(this.#state, event);
  }
}

interface SenderEvents {
  tookBytes(): void;
  ended(reason: DestinationReason): void;
}

/** The child process, its pipe, and what its words mean. */
class SenderProcess {
  readonly #child: ChildProcess;
  readonly #exited: Promise<void>;
  #words = '';
  #reason: DestinationReason | null = null;

  constructor(address: string, events: SenderEvents) {
    const tidy =
      '-v error -nostats -progress pipe:1 -stats_period 0.5 -probesize 500000 -analyzeduration 500000 -f flv -i pipe:0';
    const out = '-c copy -f flv -flvflags no_duration_filesize -rw_timeout 8000000';
    this.#child = spawn('ffmpeg', [...tidy.split(' '), ...out.split(' '), address], {
      stdio: ['pipe', 'pipe', 'pipe'],
    });
    this.#stdin.on('error', () => undefined); // its exit says what happened
    (this.#child.stdout as Readable).on('data', (progress: Buffer) => {
      const bytes = Number(/total_size=(\d+)/.exec(String(progress))?.[1] ?? 0);
      if (bytes > TAKEN_BYTES) events.tookBytes();
    });
    (this.#child.stderr as Readable).on('data', (words: Buffer) => {
      this.#words = (this.#words + String(words)).slice(-4000);
    });
    this.#exited = new Promise((resolve) => {
      const finish = (): void => {
        resolve();
        events.ended(this.#reason ?? reasonOf(this.#words));
      };
      this.#child.once('error', finish);
      this.#child.once('close', finish);
    });
  }

  get #stdin(): Writable {
    return this.#child.stdin!;
  }

  get queuedBytes(): number {
    return this.#stdin.writableLength;
  }

  write(bytes: Uint8Array): void {
    if (this.#stdin.writable) this.#stdin.write(bytes);
  }

  kill(reason: DestinationReason): void {
    this.#reason ??= reason;
    this.#child.kill('SIGKILL');
  }

  /** Closes the pipe so that the place is told properly; kills what does not follow. */
  async end(): Promise<void> {
    this.#stdin.end();
    const timer = setTimeout(() => this.#child.kill('SIGKILL'), STOP_GRACE_MS);
    await this.#exited;
    clearTimeout(timer);
  }
}

/** ffmpeg's last words; the address in them is a secret and goes nowhere. */
function reasonOf(words: string): DestinationReason {
  if (/refused by|Server error|BadName|Publish|Unauthorized|authfailed/i.test(words)) return 'refused';
  if (/Connection refused|resolve|unreachable|No route|timed out/i.test(words)) return 'unreachable';
  return 'broke-off';
}

const isSameConfiguration = (a: Tracks, b: Tracks): boolean =>
  Buffer.compare(a.video.config, b.video.config) === 0 &&
  (a.audio === null) === (b.audio === null) &&
  (a.audio === null || Buffer.compare(a.audio.config, b.audio!.config) === 0);
