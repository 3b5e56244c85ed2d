import type { Fault, FaultKind } from '@heliphon/core/faults/fault';
import type { LoudnessVerdict, Repeated, SignalReport, Verdict } from '@heliphon/core/signal/signal-report';
import { type FaultNames, faultSentences, noticedSentence } from './fault-words.js';
import { duration } from './time-words.js';

const percent = (share: number): string => `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;

const VERDICTS: Readonly<Record<Verdict, (share: string) => string>> = {
  clean: () => 'Viewers had a clean picture and sound from beginning to end.',
  nearly: (share) => `Viewers had a clean picture and sound for nearly all of it: ${share} of the time.`,
  flawed: (share) => `Viewers noticed that something was wrong: it was clean for ${share} of the time.`,
  bad: (share) => `Viewers had a hard time: it was clean for only ${share} of it.`,
  unknown: () => 'We do not know what viewers had: nothing was measured.',
};

/** The verdict in one sentence. */
export const verdictSentence = ({ verdict, cleanShare }: SignalReport): string =>
  VERDICTS[verdict](percent(cleanShare ?? 0));

const minus = (value: number): string => value.toFixed(1).replace('-', '−');

const LOUDNESS: Readonly<Record<LoudnessVerdict, string>> = {
  unheard: 'Nothing was heard of it, so we cannot say how loud it was.',
  clipping: 'The sound was too hot and distorted. Turn it down at the mixing desk.',
  loud: 'The sound was too loud. Turn it down a little at the mixing desk.',
  quiet: 'The sound was very quiet. Turn it up a little at the mixing desk.',
  uneven: 'Quiet and loud parts were far apart. Bring the speaker up, and the organ down a little.',
  right: 'The sound was just right.',
};

/** `The sound was just right. It measured −22.6 LUFS, range 8.1 LU, peak −3.2 dBTP.` */
export function loudnessSentence({ loudness, loudnessVerdict }: SignalReport): string {
  const words = LOUDNESS[loudnessVerdict];
  if (!loudness || loudness.integratedLufs === null) return words;
  const figures = [
    `${minus(loudness.integratedLufs)} LUFS`,
    loudness.rangeLu === null ? '' : `range ${minus(loudness.rangeLu)} LU`,
    loudness.truePeakDbtp === null ? '' : `peak ${minus(loudness.truePeakDbtp)} dBTP`,
  ].filter(Boolean);
  return `${words} It measured ${figures.join(', ')}.`;
}

/** The one thing to change before next time. */
export function changeSentence(
  { change }: Pick<SignalReport, 'change'>,
  nameOf: (fault: Fault) => FaultNames,
): string {
  if (!change) return 'Nothing. Do it the same way again.';
  if (change.fault) {
    const { nextTime, help } = faultSentences(change.fault, nameOf(change.fault));
    return nextTime ?? help;
  }
  return LOUDNESS[change.kind === 'clipping' ? 'clipping' : change.kind === 'too-loud' ? 'loud' : 'quiet'];
}

/** `41 viewer minutes`. */
export function costWords({ viewerMs }: Pick<Fault, 'viewerMs'>): string {
  const minutes = viewerMs / 60_000;
  if (minutes < 1) return 'less than a viewer minute';
  const rounded = Math.round(minutes);
  return rounded === 1 ? '1 viewer minute' : `${rounded} viewer minutes`;
}

/** They happen, and do not last. */
const MOMENTS: readonly FaultKind[] = ['took-over', 'format-changed'];

/** What was wrong, what viewers noticed, and what that cost. */
export function faultAccount(fault: Fault, names: FaultNames, endAtMs: number): string {
  const { then } = faultSentences(fault, names);
  const lastedMs = (fault.toMs ?? endAtMs) - fault.fromMs;
  const lasted = lastedMs >= 1000 && !MOMENTS.includes(fault.kind) ? ` It lasted ${duration(lastedMs)}.` : '';
  const cost = fault.viewerMs > 0 ? ` That is ${costWords(fault)}.` : '';
  return `${then}${lasted} ${noticedSentence(fault)}${cost}`;
}

const AGAIN: Readonly<Partial<Record<Repeated['kind'], (names: FaultNames) => string>>> = {
  'encoder-gone': ({ source }) => `${source} lost its connection or stopped`,
  'line-weak': ({ source }) => `The line from ${source} was weak`,
  'encoder-slow': ({ source }) => `${source} could not keep up`,
  'place-refused': ({ place }) => `${place} did not accept our key`,
  'place-closed': ({ place }) => `${place} closed the connection`,
};

/** `The line from Tower box was weak in 3 of the last 4 events.` */
export function repeatedSentence({ kind, subjectId, times, of }: Repeated, names: FaultNames): string {
  const what =
    AGAIN[kind]?.(names) ??
    faultSentences(
      { kind, subjectId, detail: {}, fromMs: 0, toMs: 0, noticed: NOTHING, viewerMs: 0 },
      names,
    ).then.replace(/\.$/, '');
  return `${what} in ${times} of the last ${of} events.`;
}
const NOTHING = { slateMs: 0, nothingMs: 0, pictureMs: 0, soundMs: 0 };
