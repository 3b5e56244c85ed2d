import { concatBytes, viewOf } from '../bytes.js';
import { box, fullBox, u32, u64 } from './boxes.js';
import { TRACK_ID } from '../media/track.js';

/** A sample with its times in ticks of its track. */
export interface Sample {
  readonly decodeTime: number;
  readonly duration: number;
  /** Presentation less decode time; may be negative. */
  readonly compositionOffset: number;
  readonly isKeyframe: boolean;
  readonly data: Uint8Array;
}

export interface FragmentContent {
  readonly sequence: number;
  readonly video: readonly Sample[];
  readonly audio: readonly Sample[];
}

const TRUN_FLAGS = { dataOffset: 0x1, duration: 0x100, size: 0x200, flags: 0x400, compositionOffset: 0x800 };
/** Sample flags (14496-12, 8.8.3.1): depends on others and is no sync sample, or depends on none. */
const SAMPLE_FLAGS = { delta: 0x01010000, key: 0x02000000 };

/** One movie fragment: `moof` and `mdat` with the samples of both tracks; a CMAF chunk (ISO/IEC 23000-19, 7.3.2). */
export function writeFragment({ sequence, video, audio }: FragmentContent): Uint8Array {
  const tracks = [
    { id: TRACK_ID.video, samples: video, runBytesPerSample: 16, write: writeVideoRun },
    { id: TRACK_ID.audio, samples: audio, runBytesPerSample: 8, write: writeAudioRun },
  ].filter((track) => track.samples.length > 0);
  const moofBytes = tracks.reduce(
    (size, t) => size + TRAF_FIXED_BYTES + t.runBytesPerSample * t.samples.length,
    MOOF_FIXED_BYTES,
  );
  let offset = moofBytes + 8;
  const fragments = tracks.map((track) => {
    const traf = box(
      'traf',
      fullBox('tfhd', 0, 0x020000, u32(track.id)), // default-base-is-moof
      fullBox('tfdt', 1, 0, u64(track.samples[0]!.decodeTime)),
      track.write(track.samples, offset),
    );
    offset += dataBytes(track.samples);
    return traf;
  });
  const moof = box('moof', fullBox('mfhd', 0, 0, u32(sequence)), ...fragments);
  const dataHead = box('mdat').slice();
  viewOf(dataHead).setUint32(0, offset - moofBytes);
  return concatBytes([moof, dataHead, ...tracks.flatMap((t) => t.samples.map((sample) => sample.data))]);
}

const MOOF_FIXED_BYTES = 8 + 16;
const TRAF_FIXED_BYTES = 8 + 16 + 20 + 20;

const dataBytes = (samples: readonly Sample[]): number =>
  samples.reduce((size, sample) => size + sample.data.byteLength, 0);

function writeVideoRun(samples: readonly Sample[], dataOffset: number): Uint8Array {
  const flags = Object.values(TRUN_FLAGS).reduce((all, flag) => all | flag);
  const rows = new Uint8Array(16 * samples.length);
  const view = viewOf(rows);
  samples.forEach((sample, index) => {
    view.setUint32(16 * index, sample.duration);
    view.setUint32(16 * index + 4, sample.data.byteLength);
    view.setUint32(16 * index + 8, sample.isKeyframe ? SAMPLE_FLAGS.key : SAMPLE_FLAGS.delta);
    view.setInt32(16 * index + 12, sample.compositionOffset);
  });
  return fullBox('trun', 1, flags, u32(samples.length), u32(dataOffset), rows);
}

function writeAudioRun(samples: readonly Sample[], dataOffset: number): Uint8Array {
  const rows = new Uint8Array(8 * samples.length);
  const view = viewOf(rows);
  samples.forEach((sample, index) => {
    view.setUint32(8 * index, sample.duration);
    view.setUint32(8 * index + 4, sample.data.byteLength);
  });
  const flags = TRUN_FLAGS.dataOffset | TRUN_FLAGS.duration | TRUN_FLAGS.size;
  return fullBox('trun', 0, flags, u32(samples.length), u32(dataOffset), rows);
}
