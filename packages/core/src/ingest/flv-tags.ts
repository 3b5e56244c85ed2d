import { concatBytes, viewOf } from '../bytes.js';
import { type AmfValue, encodeAmf0 } from './amf0.js';

/**
 * The bodies of FLV tags, which are also the bodies of RTMP audio and video messages
 * (Adobe FLV 10.1, annex E.4; Enhanced RTMP for the FourCC form).
 */
export type VideoTag =
  | { readonly type: 'config'; readonly avcConfig: Uint8Array }
  | {
      readonly type: 'frame';
      readonly isKeyframe: boolean;
      readonly compositionOffsetMs: number;
      readonly data: Uint8Array;
    }
  | { readonly type: 'end' }
  | { readonly type: 'unsupported'; readonly codec: string };

export type AudioTag =
  | { readonly type: 'config'; readonly aacConfig: Uint8Array }
  | { readonly type: 'frame'; readonly data: Uint8Array }
  | { readonly type: 'unsupported'; readonly codec: string };

const VIDEO_CODECS: Readonly<Record<number, string>> = {
  2: 'Sorenson H.263',
  3: 'Screen video',
  4: 'VP6',
  5: 'VP6 with alpha',
  12: 'HEVC',
};
/** FourCC of Enhanced RTMP, as people know the codecs. */
const FOUR_CC: Readonly<Record<string, string>> = {
  hvc1: 'HEVC',
  av01: 'AV1',
  vp09: 'VP9',
  Opus: 'Opus',
  fLaC: 'FLAC',
  'ac-3': 'AC-3',
  'ec-3': 'E-AC-3',
  '.mp3': 'MP3',
};
const AUDIO_CODECS: Readonly<Record<number, string>> = {
  0: 'PCM',
  1: 'ADPCM',
  2: 'MP3',
  3: 'PCM',
  6: 'Nellymoser',
  11: 'Speex',
  14: 'MP3',
};

/** Reads the body of a video tag; what cannot be read is `unsupported` with the codec's name, or "broken". */
export function parseVideoTag(body: Uint8Array): VideoTag {
  const first = body[0] ?? 0;
  if (first & 0x80) return parseEnhancedVideoTag(body);
  const codecId = first & 0x0f;
  if (codecId !== 7) return { type: 'unsupported', codec: VIDEO_CODECS[codecId] ?? `codec ${codecId}` };
  if (body.byteLength < 5) return { type: 'unsupported', codec: 'broken' };
  if (body[1] === 0) return { type: 'config', avcConfig: body.subarray(5) };
  if (body[1] === 2) return { type: 'end' };
  return {
    type: 'frame',
    isKeyframe: first >> 4 === 1,
    compositionOffsetMs: int24(body, 2),
    data: body.subarray(5),
  };
}

const int24 = (body: Uint8Array, at: number): number =>
  ((body[at]! << 24) | (body[at + 1]! << 16) | (body[at + 2]! << 8)) >> 8;

const fourCcOf = (body: Uint8Array): string => String.fromCharCode(...body.subarray(1, 5));
const nameOfFourCc = (fourCc: string): string => FOUR_CC[fourCc] ?? fourCc.replace(/[^\x20-\x7e]/g, '?');

/** Packet types of Enhanced RTMP video. */
const ENHANCED_VIDEO = {
  sequenceStart: 0,
  codedFrames: 1,
  sequenceEnd: 2,
  codedFramesX: 3,
  metadata: 4,
} as const;

/** The FourCC form (Enhanced RTMP v2, "ExVideoTagHeader"): H.264 is taken, another codec is refused by its name. */
function parseEnhancedVideoTag(body: Uint8Array): VideoTag {
  const isKeyframe = ((body[0]! >> 4) & 0x07) === 1;
  const packetType = body[0]! & 0x0f;
  const fourCc = fourCcOf(body);
  if (packetType === ENHANCED_VIDEO.metadata) return { type: 'end' };
  if (fourCc !== 'avc1') return { type: 'unsupported', codec: nameOfFourCc(fourCc) };
  switch (packetType) {
    case ENHANCED_VIDEO.sequenceStart:
      return { type: 'config', avcConfig: body.subarray(5) };
    case ENHANCED_VIDEO.codedFrames:
      if (body.byteLength < 8) return { type: 'unsupported', codec: 'broken' };
      return { type: 'frame', isKeyframe, compositionOffsetMs: int24(body, 5), data: body.subarray(8) };
    case ENHANCED_VIDEO.codedFramesX:
      return { type: 'frame', isKeyframe, compositionOffsetMs: 0, data: body.subarray(5) };
    case ENHANCED_VIDEO.sequenceEnd:
      return { type: 'end' };
    default:
      return { type: 'unsupported', codec: `packets of kind ${packetType}` };
  }
}

/** Reads the body of an audio tag. */
export function parseAudioTag(body: Uint8Array): AudioTag {
  const format = (body[0] ?? 0) >> 4;
  if (format === ENHANCED_AUDIO_FORMAT) return parseEnhancedAudioTag(body);
  if (format !== 10) return { type: 'unsupported', codec: AUDIO_CODECS[format] ?? `codec ${format}` };
  if (body.byteLength < 2) return { type: 'unsupported', codec: 'broken' };
  return body[1] === 0
    ? { type: 'config', aacConfig: body.subarray(2) }
    : { type: 'frame', data: body.subarray(2) };
}

const ENHANCED_AUDIO_FORMAT = 9;

/** The FourCC form of sound (Enhanced RTMP v2, "ExAudioTagHeader"): packet type 0 configures, 1 carries a frame. */
function parseEnhancedAudioTag(body: Uint8Array): AudioTag {
  const fourCc = fourCcOf(body);
  const packetType = body[0]! & 0x0f;
  if (fourCc !== 'mp4a') return { type: 'unsupported', codec: nameOfFourCc(fourCc) };
  if (packetType > 1) return { type: 'unsupported', codec: `packets of kind ${packetType}` };
  return packetType === 0
    ? { type: 'config', aacConfig: body.subarray(5) }
    : { type: 'frame', data: body.subarray(5) };
}

export const FLV_TAG = { audio: 8, video: 9, script: 18 } as const;
export type FlvTagKind = keyof typeof FLV_TAG;

/** The nine bytes that open an FLV file or pipe, and the first back pointer. */
export function flvHeader(has: { readonly video: boolean; readonly audio: boolean }): Uint8Array {
  const flags = (has.video ? 1 : 0) | (has.audio ? 4 : 0);
  return Uint8Array.of(0x46, 0x4c, 0x56, 1, flags, 0, 0, 0, 9, 0, 0, 0, 0);
}

/** Wraps a tag's body with its header and back pointer. */
export function flvTag(kind: FlvTagKind, timestampMs: number, body: Uint8Array): Uint8Array {
  const tag = new Uint8Array(11 + body.byteLength + 4);
  const view = viewOf(tag);
  view.setUint32(0, (FLV_TAG[kind] << 24) | body.byteLength);
  view.setUint32(4, ((timestampMs & 0xffffff) << 8) | ((timestampMs >>> 24) & 0xff));
  tag.set(body, 11);
  view.setUint32(11 + body.byteLength, 11 + body.byteLength);
  return tag;
}

export const flvMetadata = (metadata: Readonly<Record<string, AmfValue>>): Uint8Array =>
  flvTag('script', 0, encodeAmf0(['onMetaData', metadata]));

const VIDEO_HEAD = { keyframe: 0x17, frame: 0x27 } as const;

export function avcConfigBody(avcConfig: Uint8Array): Uint8Array {
  return concatBytes([Uint8Array.of(VIDEO_HEAD.keyframe, 0, 0, 0, 0), avcConfig]);
}

export function avcFrameBody(frame: {
  readonly isKeyframe: boolean;
  readonly compositionOffsetMs: number;
  readonly data: Uint8Array;
}): Uint8Array {
  const cto = frame.compositionOffsetMs;
  const head = frame.isKeyframe ? VIDEO_HEAD.keyframe : VIDEO_HEAD.frame;
  return concatBytes([Uint8Array.of(head, 1, (cto >> 16) & 0xff, (cto >> 8) & 0xff, cto & 0xff), frame.data]);
}

/** AAC in FLV always says 44.1 kHz stereo in its first byte; the truth stands in the configuration. */
const AAC_HEAD = 0xaf;
export const aacConfigBody = (aacConfig: Uint8Array): Uint8Array =>
  concatBytes([Uint8Array.of(AAC_HEAD, 0), aacConfig]);
export const aacFrameBody = (data: Uint8Array): Uint8Array => concatBytes([Uint8Array.of(AAC_HEAD, 1), data]);

export interface FlvTag {
  readonly kind: FlvTagKind;
  readonly timestampMs: number;
  readonly body: Uint8Array;
}

/** Reads the tags of a whole FLV file; a last tag that is cut short is left out. */
export function* readFlvFile(file: Uint8Array): Generator<FlvTag> {
  for (let read = readFlvTag(file, viewOf(file).getUint32(5) + 4); read; read = readFlvTag(file, read.nextAt))
    if (read.tag) yield read.tag;
}

/** @returns the tag that begins there, without one where its kind is none of ours; `null` while it is not whole. */
export function readFlvTag(
  bytes: Uint8Array,
  at: number,
): { readonly tag: FlvTag | null; readonly nextAt: number } | null {
  if (at + 11 > bytes.byteLength) return null;
  const view = viewOf(bytes);
  const sizeBytes = view.getUint32(at) & 0xffffff;
  const nextAt = at + 11 + sizeBytes + 4;
  if (nextAt - 4 > bytes.byteLength) return null;
  const time = view.getUint32(at + 4);
  const kind = (Object.keys(FLV_TAG) as FlvTagKind[]).find((name) => FLV_TAG[name] === bytes[at]);
  const body = bytes.subarray(at + 11, at + 11 + sizeBytes);
  const timestampMs = ((time >>> 8) | ((time & 0xff) << 24)) >>> 0;
  return { tag: kind ? { kind, timestampMs, body } : null, nextAt };
}
