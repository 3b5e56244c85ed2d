import { TRACK_ID } from './track.js';

/** One coded picture, or one coded stretch of sound, with its times in ticks. */
export interface Frame {
  readonly trackId: (typeof TRACK_ID)[keyof typeof TRACK_ID];
  /** Ticks per second. */
  readonly timescale: number;
  readonly decodeTime: number;
  readonly presentationTime: number;
  /** A decoder can begin with it; true of all sound. */
  readonly isKeyframe: boolean;
  readonly data: Uint8Array;
}

export const isPicture = ({ trackId }: Frame): boolean => trackId === TRACK_ID.video;

/** When a frame is decoded, in ms. */
export const decodeMs = ({ decodeTime, timescale }: Frame): number => (decodeTime * 1000) / timescale;

/** How much later than it is decoded a frame is shown, in ms; may be negative. */
export const compositionOffsetMs = ({ decodeTime, presentationTime, timescale }: Frame): number =>
  ((presentationTime - decodeTime) * 1000) / timescale;

const MS_TIMESCALE = 1000;

/** A picture whose times are counted in ms, as RTMP and FLV do. */
export const pictureAt = (
  ms: number,
  { offsetMs, isKeyframe, data }: { offsetMs: number; isKeyframe: boolean; data: Uint8Array },
): Frame => ({
  trackId: TRACK_ID.video,
  timescale: MS_TIMESCALE,
  decodeTime: ms,
  presentationTime: ms + offsetMs,
  isKeyframe,
  data,
});

/** Sound that begins at a time counted in ms, or in `timescale`. */
export const soundAt = (time: number, data: Uint8Array, timescale = MS_TIMESCALE): Frame => ({
  trackId: TRACK_ID.audio,
  timescale,
  decodeTime: time,
  presentationTime: time,
  isKeyframe: true,
  data,
});
