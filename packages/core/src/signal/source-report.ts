import type { AacParameters, AvcParameters } from '../ingest/codec-config.js';
import type { LoudnessReport } from '../loudness/loudness-meter.js';
import type { PictureCheck } from './picture-check.js';
import { SourceTiming, type TimingReport } from './source-timing.js';

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
    /** What the encoder said that it would send; `null` where it says nothing. */
    readonly announcedFps: number | null;
    readonly bitrateBps: number;
    /** Between the last two, or since the last where that is longer already; `null` until two have come. */
    readonly keyframeIntervalMs: number | null;
    readonly timing: TimingReport;
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

/** `1280x720, 48000 Hz 2`: when it changes, places have to reconnect. `null` while it is not known. */
export function codedAs({ video, audio }: SourceReport): string | null {
  if (!video || !audio) return null;
  return `${video.widthPx}x${video.heightPx}, ${audio.sampleRateHz} Hz ${audio.channels}`;
}

/** What has been seen and heard in a source, beside what was counted. */
export interface SignalContent {
  readonly loudness: LoudnessReport | null;
  /** On the clock of the report. */
  readonly picture: PictureCheck;
}

const NOTHING_SEEN: SignalContent = { loudness: null, picture: { blackSinceMs: null, frozenSinceMs: null } };

/** Long enough to be steady, short enough to be news. */
const WINDOW_MS = 4000;
/** A rate is of this time at least: encoders send what they saved up as soon as they are connected. */
const SHORTEST_MS = 1000;
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
  #announcedFps: number | null = null;
  #transport: TransportReport | null = null;
  #frames: Tick[] = [];
  #sounds: Tick[] = [];
  readonly #timing = new SourceTiming(WINDOW_MS);
  #lastPictureMs = 0;
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

  announced(frameRateFps: number | null): void {
    this.#announcedFps = frameRateFps;
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

  /** @param sourceMs - when it is decoded, by the encoder's own time. */
  videoFrame(atMs: number, sizeBytes: number, sourceMs: number, isKeyframe: boolean): void {
    this.#frames.push({ atMs, sizeBytes });
    if (this.#timing.picture(atMs, sourceMs)) this.#lastKeyframeMs = null;
    this.#lastFrameAtMs = atMs;
    this.#lastPictureMs = sourceMs;
    if (!isKeyframe) return;
    if (this.#lastKeyframeMs !== null) this.#keyframeIntervalMs = sourceMs - this.#lastKeyframeMs;
    this.#lastKeyframeMs = sourceMs;
  }

  audioFrame(atMs: number, sizeBytes: number, sourceMs: number): void {
    this.#sounds.push({ atMs, sizeBytes });
    this.#timing.sound(atMs, sourceMs);
    if (!this.#video) this.#lastFrameAtMs = atMs;
  }

  /** For how long nothing has come. */
  silentMs(nowMs: number): number {
    return this.#lastFrameAtMs === null ? Infinity : nowMs - this.#lastFrameAtMs;
  }

  /** True while pictures come, or sound where there never was a picture; on a monotone clock, as all times here. */
  isPresent(nowMs: number): boolean {
    return this.silentMs(nowMs) < SIGNAL_GONE_AFTER_MS;
  }

  /** The report at `nowMs`; forgets what is older than the window. */
  report(nowMs: number, { loudness, picture }: SignalContent = NOTHING_SEEN): SourceReport {
    this.#frames = ofWindow(this.#frames, nowMs);
    this.#sounds = ofWindow(this.#sounds, nowMs);
    const hasSound = this.#audio !== null && nowMs - (this.#sounds.at(-1)?.atMs ?? -Infinity) < WINDOW_MS;
    return {
      sinceMs: this.sinceMs,
      remoteAddress: this.remoteAddress,
      protocol: this.protocol,
      transport: this.#transport,
      encoder: this.#encoder,
      video: this.#video && {
        ...this.#video,
        frameRateFps: ratePerSecond(this.#frames, () => 1),
        announcedFps: this.#announcedFps,
        bitrateBps: Math.round(ratePerSecond(this.#frames, (tick) => tick.sizeBytes * 8)),
        keyframeIntervalMs: this.#keyframesApartMs,
        timing: this.#timing.report(nowMs),
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

  get #keyframesApartMs(): number | null {
    if (this.#keyframeIntervalMs === null || this.#lastKeyframeMs === null) return this.#keyframeIntervalMs;
    return Math.max(this.#keyframeIntervalMs, this.#lastPictureMs - this.#lastKeyframeMs);
  }
}

const sinceOr0 = (sinceMs: number | null, nowMs: number): number =>
  sinceMs === null ? 0 : Math.round(nowMs - sinceMs);

/** What came within the window, and the one before it, which marks where the time begins. */
function ofWindow(ticks: readonly Tick[], nowMs: number): Tick[] {
  const first = ticks.findIndex(({ atMs }) => nowMs - atMs < WINDOW_MS);
  return ticks.slice(first < 0 ? -1 : Math.max(0, first - 1));
}

/**
 * From the first arrival, which only marks where the time begins, to the last. A pause before what came at once
 * counts too, or what was saved up in it would look like a hundred times the rate.
 */
function ratePerSecond(ticks: readonly Tick[], amount: (tick: Tick) => number): number {
  const [mark, first] = ticks;
  const last = ticks.at(-1);
  if (!mark || !first || !last) return 0;
  const fromMs = Math.max(mark.atMs, first.atMs - WINDOW_MS);
  const sum = ticks.slice(1).reduce((total, tick) => total + amount(tick), 0);
  return Math.round((sum * 10_000) / Math.max(last.atMs - fromMs, SHORTEST_MS)) / 10;
}
