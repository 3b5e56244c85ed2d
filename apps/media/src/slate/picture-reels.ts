import { FlvSource } from '@heliphon/core/ingest/flv-source';
import { FlvStream } from '@heliphon/core/ingest/flv-stream';
import { isPicture } from '@heliphon/core/media/frame';
import { nameOf, type SlateFormat } from '@heliphon/core/media/slate-format';
import type { VideoTrack } from '@heliphon/core/media/track';
import type { Making } from './kept-reels.js';

/** One group of pictures of a slate, to be shown over and over. */
export interface Reel {
  readonly name: string;
  readonly track: VideoTrack;
  readonly pictures: readonly ReelPicture[];
  readonly pictureMs: number;
}

export interface ReelPicture {
  readonly isKeyframe: boolean;
  readonly data: Uint8Array;
}

/** Of what a reel is made: a drawn still, or, where that has not come, plain ground. */
export interface ReelOrder {
  readonly still: { readonly id: string; readonly path: string } | null;
  readonly format: SlateFormat;
}

const LENGTH_SECONDS = 2;
/** Named in place of a still. */
export const PLAIN = 'plain';
/** The ground of a slate that nothing is drawn on. */
const PLAIN_COLOUR = '0x10161f';

/** The pictures of a slate: once for each still, size and rate. */
export const PICTURE_REELS: Making<ReelOrder, Reel> = {
  nameOf: ({ still, format }) => `${still?.id ?? PLAIN}@${nameOf(format)}`,
  argsOf: encodingOf,
  read: (name, flv, { format }) => reelOf(name, flv, format),
};

/** The still covers the picture; what is written on it stands in its middle and is never cut. */
function encodingOf({ still, format }: ReelOrder): string[] {
  const { widthPx, heightPx, rateFps } = format;
  const size = `${widthPx}:${heightPx}`;
  const from = still
    ? ['-loop', '1', '-framerate', String(rateFps), '-i', still.path]
    : ['-f', 'lavfi', '-i', `color=c=${PLAIN_COLOUR}:s=${widthPx}x${heightPx}:r=${rateFps}`];
  const fit = `scale=${size}:force_original_aspect_ratio=increase,crop=${size},setsar=1,format=yuv420p`;
  const group = ['-g', String(rateFps * LENGTH_SECONDS), '-bf', '0', '-sc_threshold', '0'];
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'stillimage', '-crf', '21', ...group];
  const out = ['-threads', '1', '-f', 'flv', '-flvflags', 'no_duration_filesize', 'pipe:1'];
  const length = ['-t', String(LENGTH_SECONDS)];
  return ['-nostdin', '-v', 'error', ...from, ...length, '-an', '-vf', fit, ...code, ...out];
}

/** `null` for what is no whole reel. */
function reelOf(name: string, flv: Uint8Array, { rateFps }: SlateFormat): Reel | null {
  const source = new FlvSource();
  const pictures: ReelPicture[] = [];
  let track: VideoTrack | null = null;
  for (const { kind, timestampMs, body } of new FlvStream().push(flv)) {
    const signal = kind === 'script' ? null : source.read({ kind, timestampMs, body });
    if (signal?.type === 'video-configured') track = signal.track;
    if (signal?.type === 'frame' && isPicture(signal.frame)) pictures.push(signal.frame);
  }
  const isWhole = pictures[0]?.isKeyframe === true && pictures.length >= rateFps * (LENGTH_SECONDS - 0.5);
  return track && isWhole ? { name, track, pictures, pictureMs: 1000 / rateFps } : null;
}
