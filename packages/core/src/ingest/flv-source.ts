import { sameBytes } from '../bytes.js';
import { type Frame, pictureAt, soundAt } from '../media/frame.js';
import type { AudioTrack, SoundKind, VideoTrack } from '../media/track.js';
import type { AmfObject } from './amf0.js';
import { parseAacConfig, parseAvcConfig } from './codec-config.js';
import { parseAudioTag, parseVideoTag } from './flv-tags.js';
import { TimestampUnwrapper } from './timestamp-unwrapper.js';

/** What an encoder says it will send, before it does. */
export interface Announcement {
  /** How it calls itself. */
  readonly encoder: string | null;
  readonly video: boolean;
  readonly audio: boolean;
  readonly sound: SoundKind | null;
  readonly frameRateFps: number | null;
}

/** What a source brings, whatever it came in. */
export type SourceSignal =
  | { readonly type: 'announced'; readonly announcement: Announcement }
  | { readonly type: 'video-configured'; readonly track: VideoTrack }
  | { readonly type: 'audio-configured'; readonly track: AudioTrack }
  | { readonly type: 'frame'; readonly frame: Frame }
  /** It sends what nobody here can read. */
  | { readonly type: 'unreadable'; readonly reason: 'video-codec' | 'audio-codec'; readonly detail: string };

/** A message of RTMP, or a tag of FLV: their bodies are the same. */
export interface FlvMessage {
  readonly kind: 'video' | 'audio';
  readonly timestampMs: number;
  readonly body: Uint8Array;
}

/** An encoder that says more is mistaken. */
const MOST_FPS = 240;

/** Reads tracks and frames out of FLV tags (Adobe FLV 10.1, annex E), as RTMP encoders and ffmpeg send them. */
export class FlvSource {
  readonly #time = new TimestampUnwrapper();
  #avcConfig: Uint8Array | null = null;
  #aacConfig: Uint8Array | null = null;

  /** Reads `onMetaData`. */
  announce(metadata: AmfObject): SourceSignal {
    const { encoder, audiosamplerate, stereo, framerate } = metadata;
    const sound =
      typeof audiosamplerate === 'number'
        ? { sampleRateHz: audiosamplerate, channels: stereo === false ? 1 : 2 }
        : null;
    return {
      type: 'announced',
      announcement: {
        encoder: typeof encoder === 'string' ? encoder : null,
        video: 'videocodecid' in metadata || 'width' in metadata,
        audio: 'audiocodecid' in metadata,
        sound,
        frameRateFps:
          typeof framerate === 'number' && framerate > 0 && framerate <= MOST_FPS ? framerate : null,
      },
    };
  }

  /** @returns `null` for what says nothing new. */
  read({ kind, timestampMs, body }: FlvMessage): SourceSignal | null {
    const ms = this.#time.unwrap(timestampMs);
    return kind === 'video' ? this.#readVideo(ms, body) : this.#readAudio(ms, body);
  }

  #readVideo(ms: number, body: Uint8Array): SourceSignal | null {
    const tag = parseVideoTag(body);
    switch (tag.type) {
      case 'end':
        return null;
      case 'unsupported':
        return { type: 'unreadable', reason: 'video-codec', detail: tag.codec };
      case 'config': {
        if (this.#avcConfig && sameBytes(this.#avcConfig, tag.avcConfig)) return null;
        const parameters = parseAvcConfig(tag.avcConfig);
        if (!parameters.ok)
          return { type: 'unreadable', reason: 'video-codec', detail: parameters.error.detail };
        this.#avcConfig = tag.avcConfig.slice();
        return { type: 'video-configured', track: { ...parameters.value, config: this.#avcConfig } };
      }
      case 'frame': {
        if (!this.#avcConfig) return null;
        const { isKeyframe, compositionOffsetMs: offsetMs, data } = tag;
        return { type: 'frame', frame: pictureAt(ms, { offsetMs, isKeyframe, data }) };
      }
    }
  }

  #readAudio(ms: number, body: Uint8Array): SourceSignal | null {
    const tag = parseAudioTag(body);
    switch (tag.type) {
      case 'unsupported':
        return { type: 'unreadable', reason: 'audio-codec', detail: tag.codec };
      case 'config': {
        // Announced before it is known; the real one follows.
        if (tag.aacConfig.byteLength === 0) return null;
        if (this.#aacConfig && sameBytes(this.#aacConfig, tag.aacConfig)) return null;
        const parameters = parseAacConfig(tag.aacConfig);
        if (!parameters.ok)
          return { type: 'unreadable', reason: 'audio-codec', detail: parameters.error.detail };
        this.#aacConfig = tag.aacConfig.slice();
        return { type: 'audio-configured', track: { ...parameters.value, config: this.#aacConfig } };
      }
      case 'frame':
        return this.#aacConfig ? { type: 'frame', frame: soundAt(ms, tag.data) } : null;
    }
  }
}
