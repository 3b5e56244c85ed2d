import type { AudioTrack } from './init-segment.js';

/** One AAC-LC frame of digital silence by number of channels (ISO/IEC 14496-3, 4.4.2.1: raw_data_block). */
const SILENT_FRAMES: Readonly<Record<number, Uint8Array>> = {
  1: Uint8Array.of(0x01, 0x18, 0x20, 0x07),
  2: Uint8Array.of(0x21, 0x10, 0x04, 0x60, 0x8c, 0x1c),
  6: Uint8Array.of(
    ...[0x01, 0x18, 0x20, 0x01, 0x08, 0x80, 0x23, 0x04, 0x60, 0x23],
    ...[0x10, 0x04, 0x60, 0x8c, 0x0c, 0x23, 0x00, 0x00, 0xe0],
  ),
};

/** A frame that players decode to silence, for the formats that weekly users have; `null` for others. */
export function silentFrame(track: AudioTrack): Uint8Array | null {
  return track.codec === 'mp4a.40.2' ? (SILENT_FRAMES[track.channels] ?? null) : null;
}
