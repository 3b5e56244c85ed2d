import type { AdviceCode, AdviceLine } from '@heliphon/core/ladder/compare-with-advice';

type Detail = AdviceLine['detail'];

/** What is said of a line of the comparison, en-GB: what arrives and what that means, then what to set. */
interface AdviceSentence {
  readonly what: string;
  readonly set: string;
}

/** `4.4 Mbit/s`. */
const megabits = (bps = 0): string => `${(bps / 1_000_000).toFixed(1)} Mbit/s`;
const seconds = (ms = 0): string => `${Math.round(ms / 100) / 10} s`;
const size = (width = 0, height = 0): string => `${width} × ${height}`;

const SENTENCES: Readonly<Record<AdviceCode, (detail: Detail) => AdviceSentence>> = {
  'as-advised': () => ({ what: 'As recommended', set: '' }),
  'no-picture': () => ({
    what: 'There is no picture: viewers only hear',
    set: 'Choose a camera in the encoder.',
  }),
  'larger-picture': (d) => ({
    what: `The picture is ${size(d.widthPx, d.heightPx)}: more than this connection can carry safely`,
    set: `Set ${size(d.advisedWidthPx, d.advisedHeightPx)}.`,
  }),
  'smaller-picture': (d) => ({
    what: `The picture is ${size(d.widthPx, d.heightPx)}: the connection could carry a sharper one`,
    set: `Set ${size(d.advisedWidthPx, d.advisedHeightPx)}.`,
  }),
  'fewer-frames': (d) => ({
    what: `Only ${Math.round(d.frameRateFps ?? 0)} frames a second: movement looks jerky`,
    set: `Set ${d.advisedFrameRateFps}.`,
  }),
  'more-frames': (d) => ({
    what: `${Math.round(d.frameRateFps ?? 0)} frames a second: each gets less of the bit rate`,
    set: `Set ${d.advisedFrameRateFps}.`,
  }),
  'too-much-for-the-line': (d) => ({
    what: `${megabits(d.bitrateBps)} is more than half of what the connection can carry (${megabits(d.uploadBps)}), so it will break up in a bad minute`,
    set: `Set ${megabits(d.advisedBps)}, constant.`,
  }),
  'more-than-advised': (d) => ({
    what: `${megabits(d.bitrateBps)} is more than recommended`,
    set: `Set ${megabits(d.advisedBps)}, constant.`,
  }),
  'less-than-advised': (d) => ({
    what: `${megabits(d.bitrateBps)}: the picture could be clearer`,
    set: `Set ${megabits(d.advisedBps)}, constant.`,
  }),
  'keyframes-far-apart': (d) => ({
    what: `A keyframe every ${seconds(d.keyframeIntervalMs)}: people joining wait up to ${seconds(d.keyframeIntervalMs)} for a picture`,
    set: 'Set 2 s.',
  }),
  'keyframes-close': (d) => ({
    what: `A keyframe every ${seconds(d.keyframeIntervalMs)} makes the picture less sharp`,
    set: 'Set 2 s.',
  }),
  'keyframes-unknown': () => ({ what: 'Not known yet', set: '' }),
  'no-sound': () => ({ what: 'There is no sound', set: 'Choose a microphone or the desk in the encoder.' }),
  'thin-sound': (d) => ({
    what: `Sound has only ${Math.round((d.bitrateBps ?? 0) / 1000)} kbit/s: music will sound watery`,
    set: 'Set 96 kbit/s or more.',
  }),
  'line-loses': (d) => ({
    what: `${(d.lostPermille ?? 0) / 10} % is lost on the way, so the picture breaks up`,
    set: 'Set a longer latency, or a lower bit rate.',
  }),
};

const NOTHING: AdviceSentence = { what: '', set: '' };

/** Nothing for a code that is not known here: a newer server may have more. */
export const adviceSentence = (code: AdviceCode, detail: Detail): AdviceSentence =>
  (SENTENCES as Partial<typeof SENTENCES>)[code]?.(detail) ?? NOTHING;
