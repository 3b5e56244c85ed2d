import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ViewersHad } from '../src/audience/viewers-have.js';
import { type Fault, NOTICED_NOTHING } from '../src/faults/fault.js';
import { LoudnessMeter } from '../src/loudness/loudness-meter.js';
import { LoudnessTally } from '../src/loudness/loudness-tally.js';
import { judgeWhole, repeatedIn, type ReportFacts, reportOf } from '../src/signal/signal-report.js';
import {
  asCsv,
  packed,
  sampleOf,
  type SignalSample,
  SIGNAL_FIGURES,
  summaryOf,
  thinned,
  unpacked,
} from '../src/signal/signal-sample.js';

const HOUR_MS = 3_600_000;
const picture = (fromMs: number, toMs: number): ViewersHad => ({
  kind: 'picture',
  sourceId: 'pier',
  fromMs,
  toMs,
});
const slate = (fromMs: number, toMs: number): ViewersHad => ({ kind: 'slate', fromMs, toMs });
const fault = (over: Partial<Fault>): Fault => ({
  kind: 'encoder-gone',
  subjectId: 'pier',
  detail: {},
  fromMs: 0,
  toMs: 1000,
  noticed: NOTICED_NOTHING,
  viewerMs: 0,
  ...over,
});
const well: ReportFacts = {
  airAtMs: 0,
  endAtMs: HOUR_MS,
  viewersHad: [picture(0, HOUR_MS)],
  faults: [],
  samples: [],
  advised: null,
  loudness: { integratedLufs: -21, rangeLu: 8, truePeakDbtp: -3 },
};

describe('the signal report', () => {
  test('of an hour without a fault is clean, and asks for nothing', () => {
    expect(reportOf(well)).toMatchObject({
      cleanShare: 1,
      verdict: 'clean',
      loudnessVerdict: 'right',
      change: null,
      lostViewerMs: 0,
    });
  });

  test('counts each second once, whether the picture was missing or only spoilt, or both', () => {
    const gone = slate(600_000, 780_000);
    const facts = {
      ...well,
      viewersHad: [picture(0, 600_000), gone, picture(780_000, HOUR_MS)],
      faults: [
        fault({
          fromMs: 599_000,
          toMs: 780_000,
          noticed: { ...NOTICED_NOTHING, slateMs: 180_000 },
          viewerMs: 9_000_000,
        }),
        fault({
          kind: 'too-loud',
          fromMs: 700_000,
          toMs: 940_000,
          noticed: { ...NOTICED_NOTHING, soundMs: 180_000 },
          viewerMs: 5_000_000,
        }),
      ],
    };
    const report = reportOf(facts);
    expect(report.cleanShare).toBeCloseTo(1 - 341_000 / HOUR_MS, 6);
    expect(report).toMatchObject({
      verdict: 'flawed',
      slate: { times: 1, totalMs: 180_000 },
      nothing: { times: 0, totalMs: 0 },
      lostViewerMs: 14_000_000,
    });
  });

  test('names the dearest fault first, and asks for what mends it', () => {
    const soundMs = 60_000;
    const faults = [
      fault({ kind: 'place-refused', toMs: HOUR_MS }),
      fault({ kind: 'too-loud', noticed: { ...NOTICED_NOTHING, soundMs }, viewerMs: 600 }),
      fault({ kind: 'line-weak', noticed: { ...NOTICED_NOTHING, pictureMs: 30_000 }, viewerMs: 900 }),
    ];
    const report = reportOf({ ...well, faults });
    expect(report.faults.map(({ kind }) => kind)).toEqual(['line-weak', 'too-loud', 'place-refused']);
    expect(report.change).toMatchObject({ kind: 'line-weak', fault: faults[2] });
  });

  test('asks for the sound where nothing else cost anything, and never for what nobody there can mend', () => {
    const quiet = { integratedLufs: -41, rangeLu: 8, truePeakDbtp: -20 };
    expect(reportOf({ ...well, loudness: quiet }).change).toEqual({ kind: 'too-quiet', fault: null });
    const fell = fault({ kind: 'node-away', noticed: { ...NOTICED_NOTHING, nothingMs: 4000 }, viewerMs: 9 });
    expect(reportOf({ ...well, faults: [fell] }).change).toBeNull();
  });

  test('says that it does not know where nothing was told', () => {
    expect(reportOf({ ...well, viewersHad: [], loudness: null })).toMatchObject({
      cleanShare: null,
      verdict: 'unknown',
      loudnessVerdict: 'unheard',
    });
  });

  test.each([
    [-21, 8, -3, 'right'],
    [-21, 8, 0.4, 'clipping'],
    [-9, 8, -1, 'loud'],
    [-40, 8, -20, 'quiet'],
    [-21, 26, -3, 'uneven'],
  ])('calls %d LUFS, range %d LU, peak %d dBTP %s', (integratedLufs, rangeLu, truePeakDbtp, verdict) => {
    expect(judgeWhole({ integratedLufs, rangeLu, truePeakDbtp })).toBe(verdict);
  });

  test('whatever went wrong, the clean share lies between none and all', () => {
    const instant = fc.integer({ min: -HOUR_MS, max: 2 * HOUR_MS });
    const faults = fc.array(
      fc.tuple(instant, instant).map(([one, other]) =>
        fault({
          fromMs: Math.min(one, other),
          toMs: Math.max(one, other),
          noticed: { ...NOTICED_NOTHING, soundMs: 1 },
        }),
      ),
    );
    fc.assert(
      fc.property(faults, (some) => {
        const { cleanShare } = reportOf({ ...well, faults: some });
        expect(cleanShare).toBeGreaterThanOrEqual(0);
        expect(cleanShare).toBeLessThanOrEqual(1);
      }),
    );
  });

  test('averages only what came, against what was advised', () => {
    const nothing = sampleOf(null, 20, 0);
    const coming: SignalSample = {
      ...nothing,
      videoBps: 2_000_000,
      audioBps: 128_000,
      frameRateFps: 30,
      viewers: 40,
    };
    const advised = {
      name: '720p30',
      widthPx: 1280,
      heightPx: 720,
      frameRateFps: 30,
      videoBitrateBps: 2_500_000,
      audioBitrateBps: 128_000,
    };
    expect(reportOf({ ...well, advised, samples: [nothing, coming] }).averages).toEqual({
      bitrateBps: 2_128_000,
      advisedBps: 2_628_000,
      frameRateFps: 30,
      advisedFps: 30,
      keyframeIntervalMs: null,
      viewers: 30,
      mostViewers: 40,
    });
  });
});

test('what a series runs into again and again is counted by event, not by fault', () => {
  const tower = { subjectId: 'tower' };
  const events = [
    [fault(tower), fault({ ...tower, fromMs: 5 }), fault({ kind: 'too-loud' })],
    [fault(tower)],
    [fault({ kind: 'place-closed', subjectId: 'relay' })],
    [fault(tower), fault({ kind: 'too-loud' })],
  ];
  expect(repeatedIn(events)).toEqual([
    { kind: 'encoder-gone', subjectId: 'tower', times: 3, of: 4 },
    { kind: 'too-loud', subjectId: 'pier', times: 2, of: 4 },
  ]);
});

describe('samples', () => {
  const at = (atMs: number, over: Partial<SignalSample> = {}): SignalSample => ({
    ...sampleOf(null, 0, atMs),
    ...over,
  });

  test('of a stretch are its average, but of what went wrong the worst', () => {
    const stretch = [
      at(0, { videoBps: 1000, lateMs: 10, viewers: 1 }),
      at(1000, { videoBps: 2000, lateMs: 900 }),
    ];
    expect(summaryOf(stretch, 0)).toMatchObject({
      videoBps: 1500,
      lateMs: 900,
      viewers: 0.5,
      peakDbtp: null,
    });
    expect(thinned([...stretch, at(61_000)], 60_000).map(({ atMs }) => atMs)).toEqual([0, 60_000]);
  });

  test('are the same after they were written down', () => {
    const figure = fc.option(fc.integer({ min: -100, max: 9_000_000 }), { nil: null });
    const sample = fc
      .tuple(fc.integer({ min: 0, max: 59_999 }), fc.array(figure, { minLength: 15, maxLength: 15 }))
      .map(
        ([afterMs, figures]) =>
          ({
            atMs: 60_000 + afterMs,
            ...Object.fromEntries(SIGNAL_FIGURES.map((name, nth) => [name, figures[nth]])),
          }) as unknown as SignalSample,
      );
    fc.assert(
      fc.property(fc.array(sample), (samples) => {
        const kept = JSON.parse(JSON.stringify(packed(samples, 60_000))) as (number | null)[][];
        expect(unpacked(kept, 60_000)).toEqual(samples);
      }),
    );
  });

  test('are a table with a head, a line each', () => {
    const [head, line, rest] = asCsv([at(0, { videoBps: 5, shortTermLufs: -22.6 })]).split('\r\n');
    expect(head!.split(',')).toHaveLength(SIGNAL_FIGURES.length + 1);
    expect(line).toBe('1970-01-01T00:00:00.000Z,5,0,0,,,,,,,,,-22.6,,,0');
    expect(rest).toBe('');
  });
});

describe('the loudness of the whole', () => {
  const RATE_HZ = 48_000;
  /** A tone of so many dB below full scale on both channels. */
  const hear = (meter: LoudnessMeter, seconds: number, db: number): void => {
    const amplitude = 10 ** (db / 20);
    const samples = new Float32Array(seconds * RATE_HZ * 2);
    for (let at = 0; at < samples.length; at += 1)
      samples[at] = amplitude * Math.sin((2 * Math.PI * 1000 * Math.floor(at / 2)) / RATE_HZ);
    meter.push(samples);
  };

  test('is that of EBU Tech 3342’s first signals: 10 LU between two halves, as loud as the gated mean', () => {
    const tally = new LoudnessTally();
    const meter = new LoudnessMeter(2, (block) => tally.take(block));
    hear(meter, 20, -20);
    hear(meter, 20, -30);
    const { rangeLu, integratedLufs, truePeakDbtp } = tally.report();
    expect(Math.abs(rangeLu! - 10)).toBeLessThanOrEqual(1);
    expect(integratedLufs).toBeCloseTo(meter.report().integratedLufs!, 1);
    expect(truePeakDbtp).toBeCloseTo(-20, 0);
  });

  test('goes on over several connections, and after it was written down', () => {
    const whole = new LoudnessTally();
    const first = new LoudnessTally();
    for (const tally of [whole, first]) hear(new LoudnessMeter(2, (block) => tally.take(block)), 5, -20);
    const state = JSON.parse(JSON.stringify(first.state)) as typeof first.state;
    const second = new LoudnessTally(state);
    for (const tally of [whole, second]) hear(new LoudnessMeter(2, (block) => tally.take(block)), 5, -26);
    expect(second.report()).toEqual(whole.report());
  });

  test('of nothing is unknown', () => {
    expect(new LoudnessTally().report()).toEqual({ integratedLufs: null, rangeLu: null, truePeakDbtp: null });
  });
});
