import { concatBytes, viewOf } from '../bytes.js';

const START_CODE = Uint8Array.of(0, 0, 0, 1);

/** A keyframe with its parameter sets as a byte stream (ITU-T H.264, annex B), from AVCC lengths (ISO/IEC 14496-15). */
export function keyframeToAnnexB(avcConfig: Uint8Array, frame: Uint8Array): Uint8Array {
  const units = [...parameterSets(avcConfig), ...nalUnits(frame, (avcConfig[4]! & 3) + 1)];
  return concatBytes(units.flatMap((unit) => [START_CODE, unit]));
}

function* parameterSets(config: Uint8Array): Generator<Uint8Array> {
  let at = 5;
  for (const mask of [0x1f, 0xff]) {
    const count = (config[at] ?? 0) & mask;
    at += 1;
    for (let index = 0; index < count && at + 2 <= config.byteLength; index += 1) {
      const size = viewOf(config).getUint16(at);
      yield config.subarray(at + 2, at + 2 + size);
      at += 2 + size;
    }
  }
}

/** The NAL units of a frame; one that is cut short ends the list. */
export function* nalUnits(frame: Uint8Array, lengthBytes: number): Generator<Uint8Array> {
  for (let at = 0; at + lengthBytes <= frame.byteLength;) {
    let size = 0;
    for (let index = 0; index < lengthBytes; index += 1) size = size * 256 + frame[at + index]!;
    at += lengthBytes;
    if (at + size > frame.byteLength) return;
    yield frame.subarray(at, at + size);
    at += size;
  }
}
