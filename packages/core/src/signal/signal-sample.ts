import type { SourceReport } from './source-report.js';

/** What a programme's source sent at one moment, and who watched. `null` where it is not known. */
export interface SignalSample {
  readonly atMs: number;
  readonly videoBps: number;
  readonly audioBps: number;
  readonly frameRateFps: number;
  readonly announcedFps: number | null;
  readonly keyframeIntervalMs: number | null;
  readonly longestGapMs: number | null;
  readonly jumps: number | null;
  readonly lateMs: number | null;
  readonly lostPermille: number | null;
  readonly sentAgainPermille: number | null;
  readonly momentaryLufs: number | null;
  /** EBU R 128, over 3 s. */
  readonly shortTermLufs: number | null;
  readonly peakDbtp: number | null;
  readonly soundAheadMs: number | null;
  readonly viewers: number;
}

type Figure = Exclude<keyof SignalSample, 'atMs'>;
type Known = Pick<SignalSample, 'videoBps' | 'audioBps' | 'frameRateFps' | 'viewers'>;

/** In the order in which they are written down. */
export const SIGNAL_FIGURES = [
  'videoBps',
  'audioBps',
  'frameRateFps',
  'announcedFps',
  'keyframeIntervalMs',
  'longestGapMs',
  'jumps',
  'lateMs',
  'lostPermille',
  'sentAgainPermille',
  'momentaryLufs',
  'shortTermLufs',
  'peakDbtp',
  'soundAheadMs',
  'viewers',
] as const satisfies readonly Figure[];

/** Of a stretch of time the worst of these counts, of the others the average. */
const HIGHEST: readonly Figure[] = ['longestGapMs', 'jumps', 'lateMs', 'peakDbtp'];

const permille = (share: number): number => Math.round(share * 1000);

/** @param report - of the source; `null` while it sends nothing. */
export function sampleOf(report: SourceReport | null, viewers: number, atMs: number): SignalSample {
  const { video, audio, transport } = report ?? { video: null, audio: null, transport: null };
  // A node from before times were measured says nothing of them.
  const timing = (video?.timing ?? null) as NonNullable<typeof video>['timing'] | null;
  const heard = audio?.loudness ?? null;
  return {
    atMs,
    videoBps: video?.bitrateBps ?? 0,
    audioBps: audio?.bitrateBps ?? 0,
    frameRateFps: video?.frameRateFps ?? 0,
    announcedFps: video?.announcedFps ?? null,
    keyframeIntervalMs: video?.keyframeIntervalMs ?? null,
    longestGapMs: timing?.longestGapMs ?? null,
    jumps: timing?.jumps ?? null,
    lateMs: timing?.lateMs ?? null,
    lostPermille: transport && permille(transport.lostShare),
    sentAgainPermille: transport && permille(transport.retransmittedShare),
    momentaryLufs: heard?.momentaryLufs ?? null,
    shortTermLufs: heard?.shortTermLufs ?? null,
    peakDbtp: heard?.recentPeakDbtp ?? null,
    soundAheadMs: timing?.soundAheadMs ?? null,
    viewers,
  };
}

/** A stretch of samples as one. @param samples - at least one. */
export function summaryOf(samples: readonly SignalSample[], atMs: number): SignalSample {
  const figures = SIGNAL_FIGURES.map((figure): [Figure, number | null] => {
    const known = samples.map((sample) => sample[figure]).filter((value) => value !== null);
    if (known.length === 0) return [figure, null];
    if (HIGHEST.includes(figure)) return [figure, Math.max(...known)];
    return [figure, rounded(known.reduce((sum, value) => sum + value, 0) / known.length)];
  });
  return { atMs, ...(Object.fromEntries(figures) as Known & Omit<SignalSample, 'atMs'>) };
}

const rounded = (value: number): number => Math.round(value * 100) / 100;

/** At most one sample in `everyMs`, at the stretch's beginning. */
export function thinned(samples: readonly SignalSample[], everyMs: number): SignalSample[] {
  const stretches = new Map<number, SignalSample[]>();
  for (const sample of samples) {
    const fromMs = Math.floor(sample.atMs / everyMs) * everyMs;
    const stretch = stretches.get(fromMs);
    if (stretch) stretch.push(sample);
    else stretches.set(fromMs, [sample]);
  }
  return [...stretches].map(([fromMs, stretch]) => summaryOf(stretch, fromMs));
}

/** Samples as rows of bare figures, each with its distance from `fromMs` in front: what is kept of a minute. */
export const packed = (samples: readonly SignalSample[], fromMs: number): (number | null)[][] =>
  samples.map((sample) => [sample.atMs - fromMs, ...SIGNAL_FIGURES.map((figure) => sample[figure])]);

export const unpacked = (rows: readonly (readonly (number | null)[])[], fromMs: number): SignalSample[] =>
  rows.map(([afterMs, ...figures]) => ({
    atMs: fromMs + (afterMs ?? 0),
    ...(Object.fromEntries(SIGNAL_FIGURES.map((figure, nth) => [figure, figures[nth] ?? null])) as Known &
      Omit<SignalSample, 'atMs'>),
  }));

/** As a table, comma-separated (RFC 4180), with a head; times in ISO 8601, UTC. */
export const asCsv = (samples: readonly SignalSample[]): string =>
  [
    ['at', ...SIGNAL_FIGURES].join(','),
    ...samples.map((sample) =>
      [new Date(sample.atMs).toISOString(), ...SIGNAL_FIGURES.map((figure) => sample[figure] ?? '')].join(
        ',',
      ),
    ),
    '',
  ].join('\r\n');
