import {
  type DestinationEvent,
  type DestinationState,
  nextDestinationState,
} from '@heliphon/core/destinations/destination-state';
import { parseRtmpAddress } from '@heliphon/core/destinations/rtmp-address';
import { withParameterSets } from '@heliphon/core/ingest/annex-b';
import { configBodies, frameBody, stampMs } from '@heliphon/core/ingest/flv-writer';
import { TakenRate } from '@heliphon/core/destinations/taken-rate';
import { decodeMs, type Frame, isPicture } from '@heliphon/core/media/frame';
import { AAC_FRAME_SAMPLES } from '@heliphon/core/media/silence';
import type { WholeTracks } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import type { ProgrammeConsumer } from '../programme/programme-consumer.js';
import { RtmpSender } from './rtmp-sender.js';

/** What may wait for a slow place; beyond it, pictures are dropped up to the next keyframe. */
const QUEUE_BYTES = 2_500_000;
/** A place that takes nothing for so long, with the queue full, is given up and tried again. */
const STALLED_MS = 8000;

/** Sends the programme to one place, and starts again when that fails. Trouble at one place never affects another. */
export class DestinationSender implements ProgrammeConsumer {
  #state: DestinationState = { state: 'waiting' };
  #tracks: WholeTracks | null = null;
  #sender: RtmpSender | null = null;
  #droppingSinceMs: number | null = null;
  /** On the programme's time, where the present connection begins. */
  #beganAtMs: number | null = null;
  /** Where the next sound may begin, in the connection's own ms. */
  #soundFromMs = 0;
  readonly #rate = new TakenRate();

  constructor(
    readonly address: string,
    private readonly clock: Clock,
    private readonly mayBeInner: boolean,
  ) {}

  get state(): DestinationState {
    return this.#state;
  }

  /** What the place has taken in the last seconds, in bits a second. */
  get rateBps(): number {
    return this.#rate.of(this.#sender?.takenBytes ?? 0, this.clock.monotonicMs());
  }

  /** What waits for it. */
  get queuedBytes(): number {
    return this.#sender?.queuedBytes ?? 0;
  }

  /**
   * Another size or other sound restarts this sender alone, at the next keyframe. Other parameters of a picture of the
   * same size do not: they stand in band, before every keyframe, and the header that began the stream is not sent again.
   */
  configure(tracks: WholeTracks): void {
    const isSeamless = this.#tracks !== null && followsWithoutSeam(this.#tracks, tracks);
    this.#tracks = tracks;
    // Sound of what went reaches beyond its picture: that of what follows covers half a frame of it at most.
    this.#soundFromMs += (AAC_FRAME_SAMPLES * 1000) / tracks.audio.sampleRateHz / 2;
    if (!isSeamless) void this.#endSender();
  }

  frame(frame: Frame): void {
    const isBeginning = isPicture(frame) && frame.isKeyframe;
    if (isBeginning) this.#startIfDue();
    this.#send(frame, isBeginning);
  }

  async stop(): Promise<void> {
    this.#apply({ type: 'stopped' });
    await this.#endSender();
  }

  #startIfDue(): void {
    const { state } = this.#state;
    if (this.#sender || !this.#tracks || state === 'stopped') return;
    const nowMs = this.clock.nowMs();
    if (this.#state.state === 'troubled' && nowMs < this.#state.nextTryAtMs) return;
    this.#apply({ type: 'started', nowMs });
    const address = parseRtmpAddress(this.address);
    // The server lets no such address in; one from before is trouble of this place alone.
    if (!address.ok) return this.#apply({ type: 'failed', reason: 'unreachable', said: null, nowMs });
    const sender = new RtmpSender(address.value, this.mayBeInner, {
      tookBytes: () => this.#apply({ type: 'bytes-taken', nowMs: this.clock.nowMs() }),
      ended: (ending) => {
        if (this.#sender !== sender) return;
        this.#sender = null;
        this.#apply({ type: 'failed', ...ending, nowMs: this.clock.nowMs() });
      },
    });
    this.#sender = sender;
    this.#droppingSinceMs = null;
    this.#beganAtMs = null;
    this.#soundFromMs = 0;
    const { video, audio } = this.#tracks;
    sender.metadata({
      width: video.widthPx,
      height: video.heightPx,
      videocodecid: 7,
      audiocodecid: 10,
      audiosamplerate: audio.sampleRateHz,
      stereo: audio.channels === 2,
    });
    for (const { kind, body } of configBodies(this.#tracks)) sender.media(kind, 0, body);
  }

  /** @param isBeginning - a picture that a receiver can begin with. */
  #send(frame: Frame, isBeginning: boolean): void {
    const sender = this.#sender;
    if (!sender) return;
    const isFull = sender.queuedBytes > QUEUE_BYTES;
    // To the place its stream begins at zero, whenever in the programme it came in.
    this.#beganAtMs ??= decodeMs(frame);
    if (!isFull && (this.#droppingSinceMs === null || isBeginning)) {
      this.#droppingSinceMs = null;
      return this.#sendOn(sender, frame, this.#beganAtMs);
    }
    const nowMs = this.clock.monotonicMs();
    this.#droppingSinceMs ??= nowMs;
    if (isFull && nowMs - this.#droppingSinceMs > STALLED_MS) sender.kill('stalled');
  }

  #sendOn(sender: RtmpSender, frame: Frame, beganAtMs: number): void {
    const timestampMs = stampMs(frame, beganAtMs);
    if (isPicture(frame)) {
      const { kind, body } = frameBody(frame.isKeyframe ? this.#withParameterSets(frame) : frame);
      return sender.media(kind, timestampMs, body);
    }
    if (timestampMs < this.#soundFromMs) return;
    this.#soundFromMs = timestampMs + 1;
    const { kind, body } = frameBody(frame);
    sender.media(kind, timestampMs, body);
  }

  #withParameterSets(keyframe: Frame): Frame {
    return { ...keyframe, data: withParameterSets(this.#tracks!.video.config, keyframe.data) };
  }

  async #endSender(): Promise<void> {
    const sender = this.#sender;
    this.#sender = null;
    await sender?.end();
  }

  #apply(event: DestinationEvent): void {
    this.#state = nextDestinationState(this.#state, event);
  }
}

const followsWithoutSeam = (before: WholeTracks, after: WholeTracks): boolean =>
  before.video.widthPx === after.video.widthPx &&
  before.video.heightPx === after.video.heightPx &&
  lengthBytesOf(before) === lengthBytesOf(after) &&
  before.audio.codec === after.audio.codec &&
  before.audio.sampleRateHz === after.audio.sampleRateHz &&
  before.audio.channels === after.audio.channels;

/** How many bytes the length of a unit takes (ISO/IEC 14496-15, 5.3.3.1): the stream's header says it once. */
const lengthBytesOf = ({ video }: WholeTracks): number => (video.config[4]! & 3) + 1;
