import { fromUtf8, viewOf } from '../bytes.js';
import { TRACK_ID } from '../media/track.js';

export interface Box {
  readonly type: string;
  /** The whole box, header included. */
  readonly bytes: Uint8Array;
  readonly content: Uint8Array;
}

const HEADER_BYTES = 8;

/** The boxes that stand side by side in `bytes` (ISO/IEC 14496-12, 4.2); one that is cut short ends the list. */
export function readBoxes(bytes: Uint8Array): Box[] {
  const boxes: Box[] = [];
  for (let at = 0; at + HEADER_BYTES <= bytes.byteLength;) {
    const sizeBytes = viewOf(bytes).getUint32(at);
    if (sizeBytes < HEADER_BYTES || at + sizeBytes > bytes.byteLength) break;
    const whole = bytes.subarray(at, at + sizeBytes);
    boxes.push({ type: fromUtf8(whole.subarray(4, 8)), bytes: whole, content: whole.subarray(HEADER_BYTES) });
    at += sizeBytes;
  }
  return boxes;
}

/** Follows a path of box types; all boxes that match its last step. */
export function findBoxes(bytes: Uint8Array, [type, ...rest]: readonly string[]): Box[] {
  const found = readBoxes(bytes).filter((box) => box.type === type);
  return rest.length === 0 ? found : found.flatMap((box) => findBoxes(box.content, rest));
}

export interface FragmentSample {
  readonly duration: number;
  readonly sizeBytes: number;
  readonly compositionOffset: number;
  readonly isKeyframe: boolean;
}

export interface FragmentTrack {
  readonly trackId: number;
  readonly decodeTime: number;
  readonly samples: readonly FragmentSample[];
}

const SYNC_FLAG_MASK = 0x00010000;

/** Reads the `moof` of a fragment that `writeFragment` made: the samples of each track, in the order of their data. */
export function readMovieFragment(moof: Uint8Array): FragmentTrack[] {
  return findBoxes(moof, ['moof', 'traf']).map(({ content }) => {
    const [header] = findBoxes(content, ['tfhd']);
    const [time] = findBoxes(content, ['tfdt']);
    const [run] = findBoxes(content, ['trun']);
    const trackId = viewOf(header!.content).getUint32(4);
    const decodeTime = Number(viewOf(time!.content).getBigUint64(4));
    return { trackId, decodeTime, samples: readRun(run!.content, trackId === TRACK_ID.video) };
  });
}

function readRun(run: Uint8Array, isVideo: boolean): FragmentSample[] {
  const view = viewOf(run);
  const rowBytes = isVideo ? 16 : 8;
  return Array.from({ length: view.getUint32(4) }, (_, index) => {
    const at = 12 + index * rowBytes;
    return {
      duration: view.getUint32(at),
      sizeBytes: view.getUint32(at + 4),
      compositionOffset: isVideo ? view.getInt32(at + 12) : 0,
      isKeyframe: !isVideo || (view.getUint32(at + 8) & SYNC_FLAG_MASK) === 0,
    };
  });
}

/** What a CMAF header says of one track. */
export interface InitTrack {
  readonly trackId: number;
  readonly timescale: number;
  /** Width and height in 16.16 fixed point, as `tkhd` has them. */
  readonly size: Uint8Array;
  /** The sample entry, `avc1` or `mp4a`, whole. */
  readonly sampleEntry: Uint8Array;
}

/** Reads the tracks of a header that `writeInitSegment` made. */
export function readInitTracks(init: Uint8Array): InitTrack[] {
  return findBoxes(init, ['moov', 'trak']).map(({ content }) => {
    const [header] = findBoxes(content, ['tkhd']);
    const [media] = findBoxes(content, ['mdia', 'mdhd']);
    const [description] = findBoxes(content, ['mdia', 'minf', 'stbl', 'stsd']);
    return {
      trackId: viewOf(header!.content).getUint32(12),
      timescale: viewOf(media!.content).getUint32(12),
      size: header!.content.subarray(-8),
      sampleEntry: description!.content.subarray(8),
    };
  });
}
