import { compositionOffsetMs, decodeMs, type Frame, isPicture } from '../media/frame.js';
import type { Tracks } from '../media/track.js';
import { aacConfigBody, aacFrameBody, avcConfigBody, avcFrameBody } from './flv-tags.js';

/** A tag of FLV without its times; also the body of an RTMP message. */
export interface FlvBody {
  readonly kind: 'video' | 'audio';
  readonly body: Uint8Array;
}

/** What a reader of FLV needs before the first frame. */
export function configBodies({ video, audio }: Tracks): FlvBody[] {
  const bodies: FlvBody[] = [];
  if (video) bodies.push({ kind: 'video', body: avcConfigBody(video.config) });
  if (audio) bodies.push({ kind: 'audio', body: aacConfigBody(audio.config) });
  return bodies;
}

export function frameBody(frame: Frame): FlvBody {
  const { isKeyframe, data } = frame;
  if (!isPicture(frame)) return { kind: 'audio', body: aacFrameBody(data) };
  const offsetMs = Math.round(compositionOffsetMs(frame));
  return { kind: 'video', body: avcFrameBody({ isKeyframe, compositionOffsetMs: offsetMs, data }) };
}

/** The whole ms that stand in a tag for a frame, counted from an instant on; never below zero. */
export const stampMs = (frame: Frame, sinceMs: number): number =>
  Math.max(0, Math.round(decodeMs(frame) - sinceMs));
