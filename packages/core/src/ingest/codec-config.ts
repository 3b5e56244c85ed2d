import { type Result, refuse, succeed } from '../result.js';
import { BitReader } from './bit-reader.js';

export interface AvcParameters {
  readonly widthPx: number;
  readonly heightPx: number;
  /** RFC 6381 codec string, for instance `avc1.64001f`. */
  readonly codec: string;
}

export interface AacParameters {
  readonly sampleRateHz: number;
  readonly channels: number;
  /** RFC 6381 codec string, for instance `mp4a.40.2`. */
  readonly codec: string;
}

export type ConfigRefusal = { readonly code: 'broken-config'; readonly detail: string };

const HIGH_PROFILES = new Set([100, 110, 122, 244, 44, 83, 86, 118, 128, 138]);

/**
 * Reads an AVCDecoderConfigurationRecord (ISO/IEC 14496-15, 5.3.3.1) and the first sequence parameter set in it
 * (ITU-T H.264, 7.3.2.1.1) for the size of the picture.
 */
export function parseAvcConfig(config: Uint8Array): Result<AvcParameters, ConfigRefusal> {
  if (config.byteLength < 8 || config[0] !== 1) return broken('no AVC configuration record');
  const spsBytes = (config[6]! << 8) | config[7]!;
  if ((config[5]! & 0x1f) < 1 || config.byteLength < 8 + spsBytes || spsBytes < 4)
    return broken('no sequence parameter set');
  const codec = `avc1.${[config[1]!, config[2]!, config[3]!].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`;
  try {
    return succeed({ codec, ...readPictureSize(withoutEmulation(config.subarray(8, 8 + spsBytes))) });
  } catch {
    return broken('the sequence parameter set is cut short');
  }
}

function readPictureSize(sps: Uint8Array): { widthPx: number; heightPx: number } {
  const bits = new BitReader(sps.subarray(1));
  const profile = bits.read(8);
  bits.skip(16); // constraint flags, level
  bits.unsignedGolomb(); // seq_parameter_set_id
  let chromaFormat = 1;
  if (HIGH_PROFILES.has(profile)) {
    chromaFormat = bits.unsignedGolomb();
    if (chromaFormat === 3) bits.skip(1);
    bits.unsignedGolomb(); // bit_depth_luma
    bits.unsignedGolomb(); // bit_depth_chroma
    bits.skip(1);
    if (bits.read(1)) skipScalingMatrix(bits, chromaFormat === 3 ? 12 : 8);
  }
  bits.unsignedGolomb(); // log2_max_frame_num
  const orderType = bits.unsignedGolomb();
  if (orderType === 0) bits.unsignedGolomb();
  if (orderType === 1) {
    bits.skip(1);
    bits.signedGolomb();
    bits.signedGolomb();
    for (let cycle = bits.unsignedGolomb(); cycle > 0; cycle -= 1) bits.signedGolomb();
  }
  bits.unsignedGolomb(); // max_num_ref_frames
  bits.skip(1);
  const widthInBlocks = bits.unsignedGolomb() + 1;
  const heightInUnits = bits.unsignedGolomb() + 1;
  const framesOnly = bits.read(1);
  if (!framesOnly) bits.skip(1);
  bits.skip(1); // direct_8x8_inference
  const crop = bits.read(1) ? [0, 0, 0, 0].map(() => bits.unsignedGolomb()) : [0, 0, 0, 0];
  const cropX = chromaFormat === 0 || chromaFormat === 3 ? 1 : 2;
  const cropY = (chromaFormat === 1 ? 2 : 1) * (2 - framesOnly);
  return {
    widthPx: widthInBlocks * 16 - (crop[0]! + crop[1]!) * cropX,
    heightPx: heightInUnits * 16 * (2 - framesOnly) - (crop[2]! + crop[3]!) * cropY,
  };
}

function skipScalingMatrix(bits: BitReader, lists: number): void {
  for (let list = 0; list < lists; list += 1) {
    if (!bits.read(1)) continue;
    let next = 8;
    for (let index = 0; index < (list < 6 ? 16 : 64) && next !== 0; index += 1) {
      next = (next + bits.signedGolomb() + 256) % 256;
    }
  }
}

/** Takes out the emulation prevention bytes (H.264, 7.4.1): 00 00 03 stands for 00 00. */
function withoutEmulation(unit: Uint8Array): Uint8Array {
  return unit.filter(
    (byte, index) => !(byte === 3 && index >= 2 && unit[index - 1] === 0 && unit[index - 2] === 0),
  );
}

const AAC_RATES_HZ = [
  96000, 88200, 64000, 48000, 44100, 32000, 24000, 22050, 16000, 12000, 11025, 8000, 7350,
];

/** Reads an AudioSpecificConfig (ISO/IEC 14496-3, 1.6.2.1). */
export function parseAacConfig(config: Uint8Array): Result<AacParameters, ConfigRefusal> {
  try {
    const bits = new BitReader(config);
    const objectType = bits.read(5);
    const rateIndex = bits.read(4);
    const sampleRateHz = rateIndex === 15 ? bits.read(24) : AAC_RATES_HZ[rateIndex];
    const channelIndex = bits.read(4);
    const channels = channelIndex === 7 ? 8 : channelIndex;
    if (!sampleRateHz || objectType === 0 || objectType === 31) return broken('no AAC configuration');
    return succeed({ sampleRateHz, channels, codec: `mp4a.40.${objectType}` });
  } catch {
    return broken('the AAC configuration is cut short');
  }
}

const broken = (detail: string) => refuse<ConfigRefusal>({ code: 'broken-config', detail });
