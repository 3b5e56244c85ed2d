import type { AdviceTopic } from '@heliphon/core/ladder/compare-with-advice';
import type { PictureSize } from '@heliphon/core/ladder/picture-sizes';

/** The settings as plain text: to be copied, sent on, or read from a code. */
export const adviceText = (name: string, size: PictureSize): string =>
  [
    `Encoder: ${name}`,
    `Picture: ${size.widthPx} x ${size.heightPx}, ${size.frameRateFps} fps, H.264`,
    `Bit rate: ${size.videoBitrateBps / 1000} kbit/s, constant`,
    'Keyframe: every 2 s',
    `Sound: AAC, ${size.audioBitrateBps / 1000} kbit/s, stereo, 48 kHz`,
  ].join('\n');

export const ADVICE_TOPIC_WORDS: Readonly<Record<AdviceTopic, string>> = {
  size: 'Picture',
  'frame-rate': 'Frame rate',
  'bit-rate': 'Bit rate',
  keyframes: 'Keyframes',
  sound: 'Sound',
  line: 'The line',
};
