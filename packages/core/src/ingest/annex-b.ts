import { concatBytes, viewOf } from '../bytes.js';

const START_CODE = Uint8Array.of(0, 0, 0, 1);

/** A keyframe with its parameter sets as a byte stream (ITU-T H.264, annex B), from AVCC lengths (ISO/IEC 14496-15). */
export function keyframeToAnnexB(avcConfig: Uint8Array, frame: Uint8Array): Uint8Array {
  const units = [...parameterSets(avcConfig), ...nalUnits(frame, (avcConfig[4]! & 3) + 1)];
  return concatBytes(units.flatMap((unit) => [START_CODE, unit]));
}

const PARAMETER_SET = { sequence: 7, delimiter: 9 } as const;
const typeOf = (unit: Uint8Array): number => unit[0]! & 0x1f;

/**
 * A keyframe that carries its parameter sets, as units with lengths (ISO/IEC 14496-15, 5.3.2): decoders that pass over a
 * change of header in mid-stream take them from there. One that carries its own is left as it is.
 */
export function withParameterSets(avcConfig: Uint8Array, frame: Uint8Array): Uint8Array {
  const lengthBytes = ((avcConfig[4] ?? 3) & 3) + 1;
  const units = [...nalUnits(frame, lengthBytes)];
  const sets = [...parameterSets(avcConfig)];
  if (sets.length === 0 || units.some((unit) => typeOf(unit) === PARAMETER_SET.sequence)) return frame;
  // A delimiter stays first (ITU-T H.264, 7.4.1.2.3).
  const head = units[0] && typeOf(units[0]) === PARAMETER_SET.delimiter ? 1 : 0;
  const at = units.slice(0, head).reduce((sum, unit) => sum + lengthBytes + unit.byteLength, 0);
  return concatBytes([
    frame.subarray(0, at),
    ...sets.flatMap((set) => [lengthOf(set.byteLength, lengthBytes), set]),
    frame.subarray(at),
  ]);
}

const lengthOf = (size: number, lengthBytes: number): Uint8Array =>
  Uint8Array.from({ length: lengthBytes }, (_, index) => (size >>> (8 * (lengthBytes - 1 - index))) & 0xff);

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
