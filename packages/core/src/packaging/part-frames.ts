import { decodeMs, type Frame } from '../media/frame.js';
import { TRACK_ID, VIDEO_TIMESCALE, type WholeTracks } from '../media/track.js';
import type { Sample } from './fragment.js';
import type { PackagerOutput } from './packager.js';

/** The frames of a part, picture and sound in the order they are decoded. */
export function framesOf(
  { video, sound }: Pick<Extract<PackagerOutput, { type: 'part' }>, 'video' | 'sound'>,
  { audio }: WholeTracks,
): Frame[] {
  const frames = [
    ...video.map((sample) => frameOf(sample, TRACK_ID.video, VIDEO_TIMESCALE)),
    ...sound.map((sample) => frameOf(sample, TRACK_ID.audio, audio.sampleRateHz)),
  ];
  return frames.sort((one, other) => decodeMs(one) - decodeMs(other));
}

const frameOf = (
  { decodeTime, compositionOffset, isKeyframe, data }: Sample,
  trackId: Frame['trackId'],
  timescale: number,
): Frame => ({
  trackId,
  timescale,
  decodeTime,
  presentationTime: decodeTime + compositionOffset,
  isKeyframe,
  data,
});
