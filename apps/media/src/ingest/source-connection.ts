import type { AmfObject } from '@heliphon/core/ingest/amf0';
import { TimestampUnwrapper } from '@heliphon/core/ingest/timestamp-unwrapper';
import { parseAacConfig, parseAvcConfig } from '@heliphon/core/ingest/codec-config';
import { parseAudioTag, parseVideoTag } from '@heliphon/core/ingest/flv-tags';
import { sameBytes } from '@heliphon/core/bytes';
import type { SourceRefusalReason } from '@heliphon/core/control/observations';
import type { AudioTrack, Tracks, VideoTrack } from '@heliphon/core/packaging/init-segment';
import type { SourceAudioFrame, SourceVideoFrame } from '@heliphon/core/packaging/packager';
import { type IngestProtocol, SourceMeter } from '@heliphon/core/signal/source-report';

/** Who takes an encoder's frames. `tracks` is the same object until the encoder's configuration changes. */
export interface FrameListener {
  videoFrame(frame: SourceVideoFrame, tracks: Tracks): void;
  audioFrame(frame: SourceAudioFrame, tracks: Tracks): void;
  sourceWent(): void;
}

export interface RtmpMedia {
  readonly kind: 'video' | 'audio';
  readonly timestampMs: number;
  readonly payload: Uint8Array;
}

/** An encoder that announces sound gets so long to configure it before the picture goes without. */
const SOUND_PATIENCE_MS = 3000;
/** Sound that has waited so long for a picture goes out alone. */
const PICTURE_PATIENCE_MS = 5000;

export interface ConnectionOrigin {
  readonly remoteAddress: string;
  readonly protocol: IngestProtocol;
}

/** One encoder that has been let in: reads its tags, measures them and hands them on. */
export class SourceConnection {
  readonly meter: SourceMeter;
  readonly #listeners = new Set<FrameListener>();
  #video: VideoTrack | null = null;
  #audio: AudioTrack | null = null;
  #tracks: Tracks | null = null;
  #announcesSound = false;
  #soundSinceMs: number | null = null;
  #keyframe: SourceVideoFrame | null = null;
  readonly #time = new TimestampUnwrapper();

  constructor(
    readonly connectionId: string,
    readonly sourceId: string,
    readonly credential: string,
    private readonly openedAtMs: number,
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
  get keyframe(): { frame: SourceVideoFrame; avcConfig: Uint8Array } | null {
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

  metadata(metadata: AmfObject): void {
    if (typeof metadata.encoder === 'string') this.meter.named(metadata.encoder);
    this.#announcesSound = 'audiocodecid' in metadata;
  }

  /** @param nowMs - arrival on the monotone clock. */
  media({ kind, timestampMs, payload }: RtmpMedia, nowMs: number): void {
    const sourceMs = this.#time.unwrap(timestampMs);
    if (kind === 'video') this.#videoTag(sourceMs, payload, nowMs);
    else this.#audioTag(sourceMs, payload, nowMs);
  }

  #videoTag(sourceMs: number, payload: Uint8Array, nowMs: number): void {
    const tag = parseVideoTag(payload);
    switch (tag.type) {
      case 'end':
        return;
      case 'unsupported':
        this.close('video-codec', tag.codec);
        return;
      case 'config': {
        if (this.#video && sameBytes(this.#video.config, tag.avcConfig)) return;
        const parameters = parseAvcConfig(tag.avcConfig);
        if (!parameters.ok) return this.close('video-codec', parameters.error.detail);
        this.#video = { ...parameters.value, config: tag.avcConfig.slice() };
        this.#tracks = null;
        this.meter.videoConfigured(parameters.value);
        return;
      }
      case 'frame': {
        if (!this.#video) return;
        const { isKeyframe, compositionOffsetMs, data } = tag;
        const frame = { decodeMs: sourceMs, compositionOffsetMs, isKeyframe, data };
        this.meter.videoFrame(nowMs, payload.byteLength, isKeyframe ? sourceMs : null);
        if (isKeyframe) this.#keyframe = frame;
        if (!this.#audio && this.#announcesSound && nowMs - this.openedAtMs < SOUND_PATIENCE_MS) return;
        this.#tracks ??= { video: this.#video, audio: this.#audio };
        for (const listener of this.#listeners) listener.videoFrame(frame, this.#tracks);
      }
    }
  }

  #audioTag(sourceMs: number, payload: Uint8Array, nowMs: number): void {
    const tag = parseAudioTag(payload);
    switch (tag.type) {
      case 'unsupported':
        this.close('audio-codec', tag.codec);
        return;
      case 'config': {
        // Announced before it is known; the real one follows.
        if (tag.aacConfig.byteLength === 0) return;
        if (this.#audio && sameBytes(this.#audio.config, tag.aacConfig)) return;
        const parameters = parseAacConfig(tag.aacConfig);
        if (!parameters.ok) return this.close('audio-codec', parameters.error.detail);
        this.#audio = { ...parameters.value, config: tag.aacConfig.slice() };
        this.#tracks = null;
        this.meter.audioConfigured(parameters.value);
        return;
      }
      case 'frame':
        if (!this.#audio) return;
        this.#soundSinceMs ??= nowMs;
        this.meter.audioFrame(nowMs, payload.byteLength);
        if (!this.#video && nowMs - this.#soundSinceMs > PICTURE_PATIENCE_MS)
          this.#tracks ??= { video: null, audio: this.#audio };
        if (!this.#tracks) return;
        for (const listener of this.#listeners)
          listener.audioFrame({ decodeMs: sourceMs, data: tag.data }, this.#tracks);
    }
  }
}
