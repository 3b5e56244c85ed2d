import type { AudioTrack, SoundKind } from './track.js';

export const AAC_FRAME_SAMPLES = 1024;

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

/** What most encoders send. */
export const USUAL_SOUND: SoundKind = { sampleRateHz: 48_000, channels: 2 };

/** Sampling rates by their index (ISO/IEC 14496-3, 1.6.3.4). */
const RATES_HZ = [
  96_000, 88_200, 64_000, 48_000, 44_100, 32_000, 24_000, 22_050, 16_000, 12_000, 11_025, 8000,
];

/** AAC-LC, mono or stereo, with its AudioSpecificConfig (1.6.2.1); `null` for a rate that has no index. */
export function aacTrack({ sampleRateHz, channels }: SoundKind): AudioTrack | null {
  const rate = RATES_HZ.indexOf(sampleRateHz);
  if (rate < 0 || (channels !== 1 && channels !== 2)) return null;
  const bits = (2 << 11) | (rate << 7) | (channels << 3);
  return { sampleRateHz, channels, codec: 'mp4a.40.2', config: Uint8Array.of(bits >> 8, bits & 0xff) };
}
