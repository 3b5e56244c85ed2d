import type { AacParameters, AvcParameters } from '../ingest/codec-config.js';
import type { LoudnessReport } from '../loudness/loudness-meter.js';
import type { PictureCheck } from './picture-check.js';

export const INGEST_PROTOCOLS = ['rtmp', 'rtmps', 'srt', 'camera', 'whip', 'programme', 'file'] as const;
export type IngestProtocol = (typeof INGEST_PROTOCOLS)[number];

/** How the way to us behaves, where the protocol counts it: over the last seconds. */
export interface TransportReport {
  readonly roundTripMs: number;
  /** Of packets sent: missing for good, and sent once more. */
  readonly lostShare: number;
  readonly retransmittedShare: number;
}

/** What a source sends, as measured over the last seconds. */
export interface SourceReport {
  readonly sinceMs: number;
  /** The encoder's address as the node sees it. */
  readonly remoteAddress: string;
  readonly protocol: IngestProtocol;
  readonly transport: TransportReport | null;
  /** How the encoder calls itself, where it says so. */
  readonly encoder: string | null;
  readonly video: {
    readonly codec: string;
    readonly widthPx: number;
    readonly heightPx: number;
    readonly frameRateFps: number;
    readonly bitrateBps: number;
    /** `null` until two keyframes have come. */
    readonly keyframeIntervalMs: number | null;
    /** How long the picture has been black, or the very same; 0 while it lives. */
    readonly blackMs: number;
    readonly frozenMs: number;
  } | null;
  readonly audio: {
    readonly codec: string;
    readonly sampleRateHz: number;
    readonly channels: number;
    readonly bitrateBps: number;
    /** `null` until it has been listened to. */
    readonly loudness: LoudnessReport | null;
  } | null;
}

/** Whether anything comes by a connection at this moment: one may stand open while its network is away. */
export const isArriving = ({ video, audio }: SourceReport): boolean =>
  video ? video.frameRateFps > 0 : audio !== null;

/** What has been seen and heard in a source, beside what was counted. */
export interface SignalContent {
  readonly loudness: LoudnessReport | null;
  /** On the clock of the report. */
  readonly picture: PictureCheck;
}

const NOTHING_SEEN: SignalContent = { loudness: null, picture: { blackSinceMs: null, frozenSinceMs: null } };

/** Long enough to be steady, short enough to be news. */
const WINDOW_MS = 4000;
/** No picture for so long means that the signal is gone. */
export const SIGNAL_GONE_AFTER_MS = 3000;

interface Tick {
  readonly atMs: number;
  readonly sizeBytes: number;
}

/** Measures one connection of an encoder. Times are passed in: arrival for rates, the encoder's own for keyframes. */
export class SourceMeter {
  #video: AvcParameters | null = null;
  #audio: AacParameters | null = null;
  #encoder: string | null = null;
  #transport: TransportReport | null = null;
  #frames: Tick[] = [];
  #sounds: Tick[] = [];
  #lastKeyframeMs: number | null = null;
  #keyframeIntervalMs: number | null = null;
  #lastFrameAtMs: number | null = null;

  constructor(
    private readonly sinceMs: number,
    private readonly remoteAddress: string,
    private readonly protocol: IngestProtocol,
  ) {}

  named(encoder: string): void {
    this.#encoder = encoder.slice(0, 200);
  }

  transported(transport: TransportReport): void {
    this.#transport = transport;
  }

  videoConfigured(parameters: AvcParameters): void {
    this.#video = parameters;
  }

  audioConfigured(parameters: AacParameters): void {
    this.#audio = parameters;
  }

  videoFrame(atMs: number, sizeBytes: number, keyframeAtSourceMs: number | null): void {
    this.#frames.push({ atMs, sizeBytes });
    this.#lastFrameAtMs = atMs;
    if (keyframeAtSourceMs === null) return;
    if (this.#lastKeyframeMs !== null) this.#keyframeIntervalMs = keyframeAtSourceMs - this.#lastKeyframeMs;
    this.#lastKeyframeMs = keyframeAtSourceMs;
  }

  audioFrame(atMs: number, sizeBytes: number): void {
    this.#sounds.push({ atMs, sizeBytes });
    if (!this.#video) this.#lastFrameAtMs = atMs;
  }

  /** True while pictures come, or sound where there never was a picture; on a monotone clock, as all times here. */
  isPresent(nowMs: number): boolean {
    return this.#lastFrameAtMs !== null && nowMs - this.#lastFrameAtMs < SIGNAL_GONE_AFTER_MS;
  }

  /** The report at `nowMs`; forgets what is older than the window. */
  report(nowMs: number, { loudness, picture }: SignalContent = NOTHING_SEEN): SourceReport {
    this.#frames = this.#frames.filter((tick) => nowMs - tick.atMs < WINDOW_MS);
    this.#sounds = this.#sounds.filter((tick) => nowMs - tick.atMs < WINDOW_MS);
    const hasSound = this.#audio !== null && this.#sounds.length > 0;
    return {
      sinceMs: this.sinceMs,
      remoteAddress: this.remoteAddress,
      protocol: this.protocol,
      transport: this.#transport,
      encoder: this.#encoder,
      video: this.#video && {
        ...this.#video,
        frameRateFps: ratePerSecond(this.#frames, () => 1),
        bitrateBps: Math.round(ratePerSecond(this.#frames, (tick) => tick.sizeBytes * 8)),
        keyframeIntervalMs: this.#keyframeIntervalMs,
        blackMs: sinceOr0(picture.blackSinceMs, nowMs),
        frozenMs: sinceOr0(picture.frozenSinceMs, nowMs),
      },
      audio: hasSound
        ? {
            ...this.#audio!,
            bitrateBps: Math.round(ratePerSecond(this.#sounds, (tick) => tick.sizeBytes * 8)),
            loudness,
          }
        : null,
    };
  }
}

const sinceOr0 = (sinceMs: number | null, nowMs: number): number =>
  sinceMs === null ? 0 : Math.round(nowMs - sinceMs);

/** Between the first and the last arrival: what came first only marks where the time begins. */
function ratePerSecond(ticks: readonly Tick[], amount: (tick: Tick) => number): number {
  const first = ticks[0];
  const last = ticks.at(-1);
  if (!first || !last || last.atMs === first.atMs) return 0;
  const sum = ticks.slice(1).reduce((total, tick) => total + amount(tick), 0);
  return Math.round((sum * 10_000) / (last.atMs - first.atMs)) / 10;
}
