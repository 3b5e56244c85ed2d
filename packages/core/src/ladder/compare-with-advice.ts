import type { SourceReport } from '../signal/source-report.js';
import { KEYFRAME_EVERY_MS, type PictureSize } from './picture-sizes.js';

/** What a line of the comparison is about, in the order of reading. */
export const ADVICE_TOPICS = ['size', 'frame-rate', 'bit-rate', 'keyframes', 'sound', 'line'] as const;
export type AdviceTopic = (typeof ADVICE_TOPICS)[number];

/**
 * One thing that arrives, against what was advised. `differs` does no harm now; `change` will be seen or heard, and
 * names what to set. Figures are in the units of their names, for the catalogue of sentences.
 */
export interface AdviceLine {
  readonly topic: AdviceTopic;
  readonly verdict: 'as-advised' | 'differs' | 'change';
  readonly code: AdviceCode;
  readonly detail: Readonly<Record<string, number>>;
}

export const ADVICE_CODES = [
  'as-advised',
  'no-picture',
  'larger-picture',
  'smaller-picture',
  'fewer-frames',
  'more-frames',
  'too-much-for-the-line',
  'more-than-advised',
  'less-than-advised',
  'keyframes-far-apart',
  'keyframes-close',
  'keyframes-unknown',
  'no-sound',
  'thin-sound',
  'line-loses',
] as const;
export type AdviceCode = (typeof ADVICE_CODES)[number];

/** Encoders miss a rate by a little all the time. */
const NEAR = 0.15;
const FRAMES_NEAR = 0.07;
/** Newcomers feel a keyframe that is later than this. */
const KEYFRAMES_LATE_MS = 4000;
const THIN_SOUND_BPS = 48_000;
/** Of packets sent; beyond it the picture breaks up. */
const LOSS_SHARE = 0.005;

/**
 * What is coming in against what was advised, a line a topic.
 * @param uploadBps - what the line was measured to carry; `null` where nobody measured.
 */
export function compareWithAdvice(
  report: SourceReport,
  advised: PictureSize,
  uploadBps: number | null,
): AdviceLine[] {
  const { video } = report;
  const picture = video
    ? [
        sizeLine(video, advised),
        frameRateLine(video, advised),
        bitRateLine(report, advised, uploadBps),
        keyframeLine(video),
      ]
    : [line('size', 'change', 'no-picture')];
  return [...picture, soundLine(report.audio), ...lossLine(report)];
}

type Picture = NonNullable<SourceReport['video']>;

const line = (
  topic: AdviceTopic,
  verdict: AdviceLine['verdict'],
  code: AdviceCode,
  detail: AdviceLine['detail'] = {},
): AdviceLine => ({ topic, verdict, code, detail });

/** By area: a picture may stand upright. */
function sizeLine({ widthPx, heightPx }: Picture, advised: PictureSize): AdviceLine {
  const area = (widthPx * heightPx) / (advised.widthPx * advised.heightPx);
  const detail = { widthPx, heightPx, advisedWidthPx: advised.widthPx, advisedHeightPx: advised.heightPx };
  if (area > 1 + NEAR) return line('size', 'change', 'larger-picture', detail);
  if (area < 1 - NEAR) return line('size', 'differs', 'smaller-picture', detail);
  return line('size', 'as-advised', 'as-advised', detail);
}

function frameRateLine({ frameRateFps }: Picture, advised: PictureSize): AdviceLine {
  const detail = { frameRateFps, advisedFrameRateFps: advised.frameRateFps };
  // 25 is as good as 30: it is the rate of half the world's cameras.
  if (frameRateFps < Math.min(25, advised.frameRateFps) * (1 - FRAMES_NEAR))
    return line('frame-rate', 'change', 'fewer-frames', detail);
  if (frameRateFps > advised.frameRateFps * (1 + FRAMES_NEAR))
    return line('frame-rate', 'differs', 'more-frames', detail);
  return line('frame-rate', 'as-advised', 'as-advised', detail);
}

function bitRateLine(
  { video, audio }: SourceReport,
  advised: PictureSize,
  uploadBps: number | null,
): AdviceLine {
  const bitrateBps = (video?.bitrateBps ?? 0) + (audio?.bitrateBps ?? 0);
  const advisedBps = advised.videoBitrateBps + advised.audioBitrateBps;
  const detail = { bitrateBps, advisedBps, uploadBps: uploadBps ?? 0 };
  if (uploadBps !== null && bitrateBps > uploadBps * 0.5 * (1 + NEAR))
    return line('bit-rate', 'change', 'too-much-for-the-line', detail);
  if (bitrateBps > advisedBps * (1 + 2 * NEAR))
    return line('bit-rate', 'differs', 'more-than-advised', detail);
  if (bitrateBps < advisedBps * (1 - 2 * NEAR))
    return line('bit-rate', 'differs', 'less-than-advised', detail);
  return line('bit-rate', 'as-advised', 'as-advised', detail);
}

function keyframeLine({ keyframeIntervalMs }: Picture): AdviceLine {
  if (keyframeIntervalMs === null) return line('keyframes', 'as-advised', 'keyframes-unknown');
  const detail = { keyframeIntervalMs, advisedMs: KEYFRAME_EVERY_MS };
  if (keyframeIntervalMs > KEYFRAMES_LATE_MS)
    return line('keyframes', 'change', 'keyframes-far-apart', detail);
  if (keyframeIntervalMs > KEYFRAME_EVERY_MS * (1 + NEAR))
    return line('keyframes', 'differs', 'keyframes-far-apart', detail);
  if (keyframeIntervalMs < KEYFRAME_EVERY_MS / 2)
    return line('keyframes', 'differs', 'keyframes-close', detail);
  return line('keyframes', 'as-advised', 'as-advised', detail);
}

function soundLine(audio: SourceReport['audio']): AdviceLine {
  if (!audio) return line('sound', 'change', 'no-sound');
  const detail = { bitrateBps: audio.bitrateBps };
  return audio.bitrateBps < THIN_SOUND_BPS
    ? line('sound', 'differs', 'thin-sound', detail)
    : line('sound', 'as-advised', 'as-advised', detail);
}

/** Only where the way in counts what it loses. */
function lossLine({ transport }: SourceReport): AdviceLine[] {
  if (!transport) return [];
  const detail = { lostPermille: Math.round(transport.lostShare * 1000), roundTripMs: transport.roundTripMs };
  return [
    transport.lostShare > LOSS_SHARE
      ? line('line', 'change', 'line-loses', detail)
      : line('line', 'as-advised', 'as-advised', detail),
  ];
}
