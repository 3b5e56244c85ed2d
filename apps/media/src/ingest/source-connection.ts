import type { Announcement, SourceSignal } from '@heliphon/core/ingest/flv-source';
import type { SourceRefusalReason } from '@heliphon/core/control/observations';
import { decodeMs, type Frame, isPicture } from '@heliphon/core/media/frame';
import type { AudioTrack, Tracks, VideoTrack } from '@heliphon/core/media/track';
import { type IngestProtocol, SourceMeter } from '@heliphon/core/signal/source-report';

/** Listens to what a source sends. */
export interface FrameListener {
  /**
   * @param tracks - the same object until the encoder's configuration changes.
   * @param lateMs - how long the frame was held back until it was known what the encoder sends.
   */
  frame(frame: Frame, tracks: Tracks, lateMs: number): void;
  sourceWent(): void;
}

/** An encoder that announces sound gets so long to configure it before its picture goes on with silence. */
const SOUND_PATIENCE_MS = 1000;
/** Sound that has waited so long for a picture goes out with a still. */
const PICTURE_PATIENCE_MS = 5000;

/** A frame that is held back until it is known what the encoder sends. */
interface HeldFrame {
  readonly frame: Frame;
  /** When it came, on the monotone clock. */
  readonly atMs: number;
}

export interface ConnectionOrigin {
  readonly remoteAddress: string;
  readonly protocol: IngestProtocol;
}

/** One source that has been let in: measures what it sends and hands it on. */
export class SourceConnection {
  readonly meter: SourceMeter;
  readonly #listeners = new Set<FrameListener>();
  #video: VideoTrack | null = null;
  #audio: AudioTrack | null = null;
  #tracks: Tracks | null = null;
  #announced: Announcement | null = null;
  /** `null` once it is known what the encoder sends: nothing is held back any more. */
  #held: HeldFrame[] | null = [];
  #keyframe: Frame | null = null;

  constructor(
    readonly connectionId: string,
    readonly sourceId: string,
    readonly credential: string,
    private readonly close: (refusal: SourceRefusalReason, detail: string) => void,
    sinceMs: number,
    private readonly origin: ConnectionOrigin,
  ) {
    this.meter = new SourceMeter(sinceMs, origin.remoteAddress, origin.protocol);
  }

  get protocol(): IngestProtocol {
    return this.origin.protocol;
  }

  /** Whether what could not be sent for a while still comes: a silence is then no end. */
  get comesLate(): boolean {
    return this.protocol === 'camera';
  }

  /** The last keyframe with the configuration it needs: what a thumbnail is made of. */
  get keyframe(): { frame: Frame; avcConfig: Uint8Array } | null {
    return this.#keyframe && this.#video ? { frame: this.#keyframe, avcConfig: this.#video.config } : null;
  }

  /** Ends the connection; the encoder is told why. */
  refuse(reason: SourceRefusalReason, detail = ''): void {
    this.close(reason, detail);
  }

  listen(listener: FrameListener): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  went(): void {
    for (const listener of this.#listeners) listener.sourceWent();
    this.#listeners.clear();
  }

  /** @param nowMs - arrival on the monotone clock. */
  take(signal: SourceSignal, nowMs: number): void {
    switch (signal.type) {
      case 'announced':
        this.#announced = signal.announcement;
        if (signal.announcement.encoder) this.meter.named(signal.announcement.encoder);
        return this.meter.announced(signal.announcement.frameRateFps);
      case 'video-configured':
        this.#video = signal.track;
        this.#tracks = null;
        return this.meter.videoConfigured(signal.track);
      case 'audio-configured':
        this.#audio = signal.track;
        this.#tracks = null;
        return this.meter.audioConfigured(signal.track);
      case 'unreadable':
        return this.close(signal.reason, signal.detail);
      case 'frame':
        this.#measure(signal.frame, nowMs);
        this.#hand({ frame: signal.frame, atMs: nowMs }, nowMs);
    }
  }

  #measure(frame: Frame, nowMs: number): void {
    const { byteLength } = frame.data;
    if (!isPicture(frame)) return this.meter.audioFrame(nowMs, byteLength, decodeMs(frame));
    this.meter.videoFrame(nowMs, byteLength, decodeMs(frame), frame.isKeyframe);
    if (frame.isKeyframe) this.#keyframe = frame;
  }

  /** Hands a frame on, or holds it back until it is known what the encoder sends; nothing of it is lost either way. */
  #hand(piece: HeldFrame, nowMs: number): void {
    const held = this.#held;
    if (held) {
      held.push(piece);
      if (!this.#isKnown(nowMs - held[0]!.atMs)) return;
      this.#held = null;
    }
    const expectedSound = this.#announced?.sound;
    this.#tracks ??= { video: this.#video, audio: this.#audio, ...(expectedSound ? { expectedSound } : {}) };
    for (const { frame, atMs } of held ?? [piece])
      for (const listener of this.#listeners) listener.frame(frame, this.#tracks, nowMs - atMs);
  }

  /** Picture and sound are both there, or the one that is missing is not announced, or has been waited for. */
  #isKnown(waitedMs: number): boolean {
    if (this.#video && this.#audio) return true;
    if (this.#video) return this.#announced?.audio !== true || waitedMs >= SOUND_PATIENCE_MS;
    return this.#announced?.video === false || waitedMs >= PICTURE_PATIENCE_MS;
  }
}
