import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type AdviceLine, compareWithAdvice } from '../src/ladder/compare-with-advice.js';
import { advisePicture, isSafe, PICTURE_SIZES, totalBitrateBps } from '../src/ladder/picture-sizes.js';
import { MEASURING, steadyUploadBps, type UploadSample } from '../src/ladder/upload-measure.js';
import type { SourceReport } from '../src/signal/source-report.js';
import { NO_TIMING } from '../src/signal/source-timing.js';

const MEGABIT = 1_000_000;

describe('the picture that is advised', () => {
  test('is the largest whose picture and sound stay under half of the upload', () => {
    expect(advisePicture(2 * MEGABIT)?.name).toBe('360p30');
    expect(advisePicture(8 * MEGABIT)?.name).toBe('720p30');
    expect(advisePicture(30 * MEGABIT)?.name).toBe('1080p60');
    expect(advisePicture(0.5 * MEGABIT)).toBeNull();
  });

  test('never grows when the line gets worse, and is always safe', () => {
    const bps = fc.integer({ min: 0, max: 100 * MEGABIT });
    fc.assert(
      fc.property(bps, bps, (one, other) => {
        const [worse, better] = [one, other].sort((a, b) => a - b).map(advisePicture);
        if (worse) expect(totalBitrateBps(worse)).toBeLessThanOrEqual(totalBitrateBps(better!));
        const advised = advisePicture(one);
        expect(advised === null || isSafe(advised, one)).toBe(true);
      }),
    );
  });
});

/** Samples every 200 ms of a line whose rate at an instant is given. */
function samplesOf(rateBps: (atMs: number) => number, untilMs: number): UploadSample[] {
  const samples: UploadSample[] = [{ atMs: 5000, receivedBytes: 0 }];
  for (let atMs = 200; atMs <= untilMs; atMs += 200)
    samples.push({
      atMs: 5000 + atMs,
      receivedBytes: samples.at(-1)!.receivedBytes + (rateBps(atMs) * 0.2) / 8,
    });
  return samples;
}

describe('the measured upload', () => {
  const wholeMs = MEASURING.warmUpMs + MEASURING.countedMs;

  test('is what the line keeps up, not what buffers took at the beginning', () => {
    const rushed = samplesOf((atMs) => (atMs <= 1000 ? 50 * MEGABIT : 8 * MEGABIT), wholeMs);
    expect(steadyUploadBps(rushed)).toBeCloseTo(8 * MEGABIT, -4);
  });

  test('of a line that stumbles is nearer to its bad seconds than to its peak', () => {
    const stumbling = samplesOf((atMs) => (atMs > 4000 && atMs <= 6000 ? MEGABIT : 10 * MEGABIT), wholeMs);
    expect(steadyUploadBps(stumbling)).toBeLessThan(5 * MEGABIT);
  });

  test('says nothing as long as there is nothing to say', () => {
    expect(steadyUploadBps([])).toBeNull();
    expect(steadyUploadBps(samplesOf(() => MEGABIT, MEASURING.warmUpMs + 400))).toBeNull();
  });

  test('is right within two in a hundred for every steady line', () => {
    fc.assert(
      fc.property(fc.integer({ min: 100_000, max: 200 * MEGABIT }), (bps) => {
        const measured = steadyUploadBps(samplesOf(() => bps, wholeMs))!;
        expect(Math.abs(measured / bps - 1)).toBeLessThan(0.02);
      }),
    );
  });
});

describe('what arrives against what was advised', () => {
  const advised = PICTURE_SIZES.find(({ name }) => name === '720p30')!;
  const report: SourceReport = {
    sinceMs: 0,
    remoteAddress: '192.0.2.1',
    protocol: 'rtmp',
    transport: null,
    encoder: null,
    video: {
      codec: 'avc1.64001f',
      widthPx: 1280,
      heightPx: 720,
      frameRateFps: 30,
      bitrateBps: 2_500_000,
      keyframeIntervalMs: 2000,
      announcedFps: null,
      timing: NO_TIMING,
      blackMs: 0,
      frozenMs: 0,
    },
    audio: { codec: 'mp4a.40.2', sampleRateHz: 48_000, channels: 2, bitrateBps: 128_000, loudness: null },
  };
  const video = report.video!;
  const said = (over: Partial<SourceReport>, uploadBps: number | null = 8 * MEGABIT): string[] =>
    compareWithAdvice({ ...report, ...over }, advised, uploadBps)
      .filter(({ verdict }) => verdict !== 'as-advised')
      .map(({ topic, verdict, code }) => `${topic}: ${verdict}, ${code}`);
  const withVideo = (over: Partial<typeof video>): string[] => said({ video: { ...video, ...over } });

  test('is all right when it is as advised, upright too', () => {
    expect(said({})).toEqual([]);
    expect(withVideo({ widthPx: 720, heightPx: 1280, frameRateFps: 25 })).toEqual([]);
  });

  test('names a picture that is larger than the line carries, and one that could be sharper', () => {
    expect(withVideo({ widthPx: 1920, heightPx: 1080 })).toEqual(['size: change, larger-picture']);
    expect(withVideo({ widthPx: 640, heightPx: 360 })).toEqual(['size: differs, smaller-picture']);
  });

  test('names a bit rate that the line will not bear, by the line and not by the table', () => {
    expect(withVideo({ bitrateBps: 6 * MEGABIT })).toEqual(['bit-rate: change, too-much-for-the-line']);
    expect(said({ video: { ...video, bitrateBps: 6 * MEGABIT } }, null)).toEqual([
      'bit-rate: differs, more-than-advised',
    ]);
    expect(withVideo({ bitrateBps: MEGABIT })).toEqual(['bit-rate: differs, less-than-advised']);
  });

  test('names keyframes that newcomers wait for, and few pictures', () => {
    expect(withVideo({ keyframeIntervalMs: 10_000 })).toEqual(['keyframes: change, keyframes-far-apart']);
    expect(withVideo({ keyframeIntervalMs: 3000 })).toEqual(['keyframes: differs, keyframes-far-apart']);
    expect(withVideo({ keyframeIntervalMs: 500 })).toEqual(['keyframes: differs, keyframes-close']);
    expect(withVideo({ keyframeIntervalMs: null })).toEqual([]);
    expect(withVideo({ frameRateFps: 12 })).toEqual(['frame-rate: change, fewer-frames']);
    expect(withVideo({ frameRateFps: 60 })).toEqual(['frame-rate: differs, more-frames']);
  });

  test('names sound and picture that are missing, and a line that loses', () => {
    expect(said({ audio: null, video: null })).toEqual([
      'size: change, no-picture',
      'sound: change, no-sound',
    ]);
    expect(said({ audio: { ...report.audio!, bitrateBps: 32_000 } })).toEqual(['sound: differs, thin-sound']);
    const transport = { roundTripMs: 40, lostShare: 0.02, retransmittedShare: 0.1 };
    const lines = compareWithAdvice({ ...report, transport }, advised, null);
    expect(lines.at(-1)).toEqual({
      topic: 'line',
      verdict: 'change',
      code: 'line-loses',
      detail: { lostPermille: 20, roundTripMs: 40 },
    } satisfies AdviceLine);
  });
});
