import { sameBytes } from '@heliphon/core/bytes';
import {
  type DestinationEvent,
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
import { SenderProcess } from './sender-process.js';

/** What may wait for a slow place; beyond it, pictures are dropped up to the next keyframe. */
const QUEUE_BYTES = 2_500_000;
/** A place that takes nothing for so long, with the queue full, is given up and tried again. */
const STALLED_MS = 8000;

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
    const isAlone = this.#tracks?.video === null;
    if (isAlone) this.#startIfDue();
    this.#write(() => flvTag('audio', Math.max(0, atMs), aacFrameBody(frame.data)), isAlone);
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
      ended: (ending) => {
        if (this.#child !== child) return;
        this.#child = null;
        this.#apply({ type: 'failed', ...ending, nowMs: this.clock.nowMs() });
      },
    });
    this.#child = child;
    this.#droppingSinceMs = null;
    const { video, audio } = this.#tracks;
    child.write(flvHeader({ video: video !== null, audio: audio !== null }));
    child.write(
      flvMetadata({
        ...(video ? { width: video.widthPx, height: video.heightPx, videocodecid: 7 } : {}),
        ...(audio
          ? { audiocodecid: 10, audiosamplerate: audio.sampleRateHz, stereo: audio.channels === 2 }
          : {}),
      }),
    );
    if (video) child.write(flvTag('video', 0, avcConfigBody(video.config)));
    if (audio) child.write(flvTag('audio', 0, aacConfigBody(audio.config)));
  }

  /** @param canBegin - a picture or sound that a receiver can begin with. */
  #write(tag: () => Uint8Array, canBegin: boolean): void {
    const child = this.#child;
    if (!child) return;
    const isFull = child.queuedBytes > QUEUE_BYTES;
    if (this.#droppingSinceMs === null && !isFull) return child.write(tag());
    const nowMs = this.clock.monotonicMs();
    if (!isFull && canBegin) {
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

const isSameTrack = (a: { config: Uint8Array } | null, b: { config: Uint8Array } | null): boolean =>
  a === null || b === null ? a === b : sameBytes(a.config, b.config);

const isSameConfiguration = (a: Tracks, b: Tracks): boolean =>
  isSameTrack(a.video, b.video) && isSameTrack(a.audio, b.audio);
