import { concatBytes, viewOf } from '../bytes.js';
import { box } from './boxes.js';
import { type Sample, writeFragment } from './fragment.js';
import { TRACK_ID } from '../media/track.js';
import { findBoxes, readBoxes, readMovieFragment } from './read-boxes.js';

/**
 * The sound of a part or segment that `writeFragment` made, as fragments of their own with the same numbers and times
 * (CMAF, ISO/IEC 23000-19, 7.3.2); a fragment without sound comes out empty.
 */
export function soundOf(media: Uint8Array): Uint8Array {
  const boxes = readBoxes(media);
  const fragments = boxes.flatMap((moof, index) => {
    const data = boxes[index + 1];
    return moof.type === 'moof' && data ? [soundFragment(moof.bytes, data.content)] : [];
  });
  return concatBytes(fragments);
}

function soundFragment(moof: Uint8Array, data: Uint8Array): Uint8Array {
  const [header] = findBoxes(moof, ['moof', 'mfhd']);
  const audio: Sample[] = [];
  let at = 0;
  for (const { trackId, decodeTime, samples } of readMovieFragment(moof)) {
    let time = decodeTime;
    for (const { sizeBytes, ...sample } of samples) {
      if (trackId === TRACK_ID.audio)
        audio.push({ ...sample, decodeTime: time, data: data.subarray(at, at + sizeBytes) });
      time += sample.duration;
      at += sizeBytes;
    }
  }
  return writeFragment({ sequence: viewOf(header!.content).getUint32(4), video: [], audio });
}

/** The CMAF header of the sound alone, from one that `writeInitSegment` made; `null` where there is no sound. */
export function soundInitOf(init: Uint8Array): Uint8Array | null {
  const [tracks] = findBoxes(init, ['moov']);
  const isOfSound = ({ type, bytes }: { type: string; bytes: Uint8Array }): boolean => {
    if (type !== 'trak') return true;
    const [header] = findBoxes(bytes, ['trak', 'tkhd']);
    return viewOf(header!.content).getUint32(12) === TRACK_ID.audio;
  };
  const kept = readBoxes(tracks!.content).filter(isOfSound);
  if (!kept.some(({ type }) => type === 'trak')) return null;
  const extended = kept.map(({ type, bytes, content }) => (type === 'mvex' ? soundExtends(content) : bytes));
  const [fileType] = findBoxes(init, ['ftyp']);
  return concatBytes([fileType!.bytes, box('moov', ...extended)]);
}

function soundExtends(content: Uint8Array): Uint8Array {
  const ofSound = readBoxes(content).filter((trex) => viewOf(trex.content).getUint32(4) === TRACK_ID.audio);
  return box('mvex', ...ofSound.map(({ bytes }) => bytes));
}
