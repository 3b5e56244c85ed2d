import { timesOf, type ViewersHad } from '../audience/viewers-have.js';
import { type Fault, type FaultKind, noticedMs } from '../faults/fault.js';
import type { PictureSize } from '../ladder/picture-sizes.js';
import type { WholeLoudness } from '../loudness/loudness-tally.js';
import { LOUDNESS } from '../readiness/readiness.js';
import type { SignalSample } from './signal-sample.js';

/** What is known of an event that is over. */
export interface ReportFacts {
  readonly airAtMs: number;
  readonly endAtMs: number;
  /** From air to end. */
  readonly viewersHad: readonly ViewersHad[];
  readonly faults: readonly Fault[];
  readonly samples: readonly SignalSample[];
  readonly advised: PictureSize | null;
  readonly loudness: WholeLoudness | null;
}

export const VERDICTS = ['clean', 'nearly', 'flawed', 'bad', 'unknown'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** How loud the whole was, against EBU R 128 as it is heard on a telephone. */
export type LoudnessVerdict = 'unheard' | 'clipping' | 'loud' | 'quiet' | 'uneven' | 'right';

/** What came in on average while something came, against what was advised; `null` where nobody knows. */
export interface Averages {
  readonly bitrateBps: number | null;
  readonly advisedBps: number | null;
  readonly frameRateFps: number | null;
  readonly advisedFps: number | null;
  readonly keyframeIntervalMs: number | null;
  readonly viewers: number | null;
  readonly mostViewers: number | null;
}

export interface SignalReport {
  readonly durationMs: number;
  /** Of the time on air, in which viewers had all as it should be; `null` where nobody knows what they had. */
  readonly cleanShare: number | null;
  readonly slate: { readonly times: number; readonly totalMs: number };
  readonly nothing: { readonly times: number; readonly totalMs: number };
  /** Viewers × ms in which they noticed a fault, of all faults together. */
  readonly lostViewerMs: number;
  readonly averages: Averages;
  readonly loudness: WholeLoudness | null;
  readonly loudnessVerdict: LoudnessVerdict;
  /** Dearest first. */
  readonly faults: readonly Fault[];
  readonly verdict: Verdict;
  /** The one thing to change before next time: what the dearest fault asks for, or the sound; `null` for nothing. */
  readonly change: { readonly kind: FaultKind; readonly fault: Fault | null } | null;
}

/** Each from this share of clean time on. */
const SHARES: readonly (readonly [Verdict, number])[] = [
  ['clean', 0.998],
  ['nearly', 0.98],
  ['flawed', 0.9],
];
/** A range that needs a hand on the volume: soft words are lost where loud ones are bearable. */
const UNEVEN_LU = 20;

interface Span {
  readonly fromMs: number;
  readonly toMs: number;
}

/** Everything that can be said of an event's signal once it is over. */
export function reportOf(facts: ReportFacts): SignalReport {
  const { airAtMs, endAtMs, viewersHad, faults, loudness } = facts;
  const durationMs = Math.max(0, endAtMs - airAtMs);
  const missing = viewersHad.filter(({ kind }) => kind === 'slate' || kind === 'nothing');
  const spoilt = union([
    ...missing,
    ...faults
      .filter((fault) => noticedMs(fault) > 0)
      .map(({ fromMs, toMs }) => ({ fromMs, toMs: toMs ?? endAtMs })),
  ]).map(({ fromMs, toMs }) => ({ fromMs: Math.max(airAtMs, fromMs), toMs: Math.min(endAtMs, toMs) }));
  const spoiltMs = spoilt.reduce((sum, { fromMs, toMs }) => sum + Math.max(0, toMs - fromMs), 0);
  const isKnown = viewersHad.length > 0 && durationMs > 0;
  const cleanShare = isKnown ? 1 - spoiltMs / durationMs : null;
  const dearest = faults.toSorted(
    (one, other) =>
      other.viewerMs - one.viewerMs ||
      noticedMs(other) - noticedMs(one) ||
      lastedMs(other, endAtMs) - lastedMs(one, endAtMs),
  );
  const loudnessVerdict = judgeWhole(loudness);
  return {
    durationMs,
    cleanShare,
    slate: timesOf('slate', viewersHad),
    nothing: timesOf('nothing', viewersHad),
    lostViewerMs: faults.reduce((sum, { viewerMs }) => sum + viewerMs, 0),
    averages: averagesOf(facts),
    loudness,
    loudnessVerdict,
    faults: dearest,
    verdict: verdictOf(cleanShare),
    change: changeOf(dearest, loudnessVerdict),
  };
}

const lastedMs = ({ fromMs, toMs }: Fault, endAtMs: number): number => (toMs ?? endAtMs) - fromMs;

function verdictOf(cleanShare: number | null): Verdict {
  if (cleanShare === null) return 'unknown';
  return SHARES.find(([, from]) => cleanShare >= from)?.[0] ?? 'bad';
}

/** @param loudness - of the whole event. */
export function judgeWhole(loudness: WholeLoudness | null): LoudnessVerdict {
  if (!loudness || loudness.integratedLufs === null) return 'unheard';
  const { integratedLufs, truePeakDbtp, rangeLu } = loudness;
  if (truePeakDbtp !== null && truePeakDbtp > 0) return 'clipping';
  if (integratedLufs > LOUDNESS.loudLufs) return 'loud';
  if (integratedLufs < LOUDNESS.quietLufs) return 'quiet';
  return rangeLu !== null && rangeLu > UNEVEN_LU ? 'uneven' : 'right';
}

const SOUND_TO_CHANGE: Readonly<Partial<Record<LoudnessVerdict, FaultKind>>> = {
  clipping: 'clipping',
  loud: 'too-loud',
  quiet: 'too-quiet',
};

/** A node that fell is nothing that the people on duty could change. */
function changeOf(dearest: readonly Fault[], sound: LoudnessVerdict): SignalReport['change'] {
  const fault = dearest.find(({ kind }) => kind !== 'node-away');
  if (fault && noticedMs(fault) > 0) return { kind: fault.kind, fault };
  const kind = SOUND_TO_CHANGE[sound];
  if (kind) return { kind, fault: null };
  return fault ? { kind: fault.kind, fault } : null;
}

function averagesOf({ samples, advised }: ReportFacts): Averages {
  const sending = samples.filter(({ videoBps }) => videoBps > 0);
  const mean = (values: readonly number[]): number | null =>
    values.length === 0 ? null : values.reduce((sum, value) => sum + value, 0) / values.length;
  const viewers = samples.map((sample) => sample.viewers);
  return {
    bitrateBps: mean(sending.map(({ videoBps, audioBps }) => videoBps + audioBps)),
    advisedBps: advised && advised.videoBitrateBps + advised.audioBitrateBps,
    frameRateFps: mean(sending.map(({ frameRateFps }) => frameRateFps)),
    advisedFps: advised && advised.frameRateFps,
    keyframeIntervalMs: mean(sending.flatMap(({ keyframeIntervalMs }) => keyframeIntervalMs ?? [])),
    viewers: mean(viewers),
    mostViewers: viewers.length > 0 ? Math.max(...viewers) : null,
  };
}

/** Stretches that overlap or touch become one. */
function union(spans: readonly Span[]): Span[] {
  const joined: Span[] = [];
  for (const span of spans.toSorted((one, other) => one.fromMs - other.fromMs)) {
    const last = joined.at(-1);
    if (last && span.fromMs <= last.toMs)
      joined[joined.length - 1] = { fromMs: last.fromMs, toMs: Math.max(last.toMs, span.toMs) };
    else joined.push(span);
  }
  return joined;
}

/** What a series keeps running into: a fault that more than one of its last events had. */
export interface Repeated {
  readonly kind: FaultKind;
  readonly subjectId: string;
  readonly times: number;
  readonly of: number;
}

/**
 * What happened again and again, most often first.
 * @param events - the faults of each of the last events of a series.
 */
export function repeatedIn(events: readonly (readonly Fault[])[]): Repeated[] {
  const times = new Map<string, Repeated>();
  for (const faults of events) {
    const once = new Map(faults.map((fault) => [`${fault.kind} ${fault.subjectId}`, fault]));
    for (const [key, { kind, subjectId }] of once)
      times.set(key, { kind, subjectId, times: (times.get(key)?.times ?? 0) + 1, of: events.length });
  }
  return [...times.values()]
    .filter((repeated) => repeated.times > 1)
    .toSorted((one, other) => other.times - one.times);
}
