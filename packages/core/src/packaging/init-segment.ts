import { concatBytes, utf8 } from '../bytes.js';
import { type AudioTrack, TRACK_ID, type Tracks, VIDEO_TIMESCALE, type VideoTrack } from '../media/track.js';
import { box, fullBox, u16, u32, zeros } from './boxes.js';

/** The CMAF header (ISO/IEC 23000-19, 7.3.1) of picture and sound, whichever there is. */
export function writeInitSegment({ video, audio }: Tracks): Uint8Array {
  const movieHeader = fullBox(
    'mvhd',
    0,
    0,
    u32(0),
    u32(0),
    u32(1000),
    u32(0),
    u32(0x10000),
    u16(0x100),
    zeros(10),
    IDENTITY_MATRIX,
    zeros(24),
    u32(3),
  );
  const tracks = [video && videoTrack(video), audio && audioTrack(audio)].filter((track) => track !== null);
  const ids = [video && TRACK_ID.video, audio && TRACK_ID.audio].filter((id) => id !== null);
  const extend = box('mvex', ...ids.map(trackExtends));
  return concatBytes([
    box('ftyp', utf8('iso6'), u32(0), utf8('iso6'), utf8('cmfc'), utf8('mp41')),
    box('moov', movieHeader, ...tracks, extend),
  ]);
}

/** The identity matrix in 16.16 and 2.30 fixed point. */
export const IDENTITY_MATRIX = [0x10000, 0, 0, 0, 0x10000, 0, 0, 0, 0x40000000].flatMap(u32);

const trackExtends = (id: number): Uint8Array =>
  fullBox('trex', 0, 0, u32(id), u32(1), u32(0), u32(0), u32(0));

function videoTrack(video: VideoTrack): Uint8Array {
  const entry = box(
    'avc1',
    zeros(6),
    u16(1),
    zeros(16),
    u16(video.widthPx),
    u16(video.heightPx),
    u32(0x480000),
    u32(0x480000),
    zeros(4),
    u16(1),
    zeros(32),
    u16(24),
    [0xff, 0xff],
    box('avcC', video.config),
  );
  return track({
    id: TRACK_ID.video,
    timescale: VIDEO_TIMESCALE,
    handler: 'vide',
    entry,
    volume: 0,
    widthPx: video.widthPx,
    heightPx: video.heightPx,
  });
}

function audioTrack(audio: AudioTrack): Uint8Array {
  const entry = box(
    'mp4a',
    zeros(6),
    u16(1),
    zeros(8),
    u16(audio.channels || 2),
    u16(16),
    zeros(4),
    u16(audio.sampleRateHz & 0xffff),
    u16(0),
    elementaryStream(audio.config),
  );
  return track({
    id: TRACK_ID.audio,
    timescale: audio.sampleRateHz,
    handler: 'soun',
    entry,
    volume: 0x100,
    widthPx: 0,
    heightPx: 0,
  });
}

interface TrackSettings {
  readonly id: number;
  readonly timescale: number;
  readonly handler: string;
  readonly entry: Uint8Array;
  readonly volume: number;
  readonly widthPx: number;
  readonly heightPx: number;
}

function track(t: TrackSettings): Uint8Array {
  const header = fullBox(
    'tkhd',
    0,
    7,
    u32(0),
    u32(0),
    u32(t.id),
    zeros(4),
    u32(0),
    zeros(8),
    u16(0),
    u16(0),
    u16(t.volume),
    zeros(2),
    IDENTITY_MATRIX,
    u32(t.widthPx << 16),
    u32(t.heightPx << 16),
  );
  const sampleTable = box(
    'stbl',
    fullBox('stsd', 0, 0, u32(1), t.entry),
    fullBox('stts', 0, 0, u32(0)),
    fullBox('stsc', 0, 0, u32(0)),
    fullBox('stsz', 0, 0, u32(0), u32(0)),
    fullBox('stco', 0, 0, u32(0)),
  );
  const media = box(
    'mdia',
    fullBox('mdhd', 0, 0, u32(0), u32(0), u32(t.timescale), u32(0), u16(0x55c4), u16(0)),
    fullBox('hdlr', 0, 0, u32(0), utf8(t.handler), zeros(12), zeros(1)),
    mediaInformation(t.handler === 'vide', sampleTable),
  );
  return box('trak', header, media);
}

/** `minf`: what kind of media, that its data are in this file, and its sample table. */
export function mediaInformation(isVideo: boolean, sampleTable: Uint8Array): Uint8Array {
  const header = isVideo ? fullBox('vmhd', 0, 1, zeros(8)) : fullBox('smhd', 0, 0, zeros(4));
  const data = box('dinf', fullBox('dref', 0, 0, u32(1), fullBox('url ', 0, 1)));
  return box('minf', header, data, sampleTable);
}

/** ES_Descriptor (ISO/IEC 14496-1, 7.2.6.5) with the AudioSpecificConfig. */
function elementaryStream(config: Uint8Array): Uint8Array {
  const specific = [0x05, config.byteLength, ...config];
  const decoder = [0x04, 13 + specific.length, 0x40, 0x15, ...zeros(11), ...specific];
  const descriptor = [0x03, 3 + decoder.length + 3, ...u16(0), 0, ...decoder, 0x06, 1, 2];
  return fullBox('esds', 0, 0, descriptor);
}
