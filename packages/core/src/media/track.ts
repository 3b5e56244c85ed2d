import type { AacParameters, AvcParameters } from '../ingest/codec-config.js';

/** Ticks per second of a programme's pictures (RFC 3551, 5: what video is usually counted in). */
export const VIDEO_TIMESCALE = 90_000;
export const TRACK_ID = { video: 1, audio: 2 } as const;

export interface VideoTrack extends AvcParameters {
  /** AVCDecoderConfigurationRecord (ISO/IEC 14496-15, 5.3.3.1). */
  readonly config: Uint8Array;
}
export interface AudioTrack extends AacParameters {
  /** AudioSpecificConfig (ISO/IEC 14496-3, 1.6.2.1). */
  readonly config: Uint8Array;
}

/** What a source sends: its codecs and their configuration. */
export interface Tracks {
  /** `null` for sound without a picture. */
  readonly video: VideoTrack | null;
  /** `null` for a picture without sound. One of the two is there. */
  readonly audio: AudioTrack | null;
  /** Of what kind the sound will be that has not come yet, where the encoder announces it. */
  readonly expectedSound?: SoundKind;
}

/** Picture and sound, both of them, as a programme always has them. */
export interface WholeTracks extends Tracks {
  readonly video: VideoTrack;
  readonly audio: AudioTrack;
}

export type SoundKind = Pick<AudioTrack, 'sampleRateHz' | 'channels'>;
