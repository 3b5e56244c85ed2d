import { describe, expect, test } from '@jest/globals';
import { choiceIn } from '../src/ladder/rendition-setting.js';
import {
  type AskedPerson,
  checkReadiness,
  type Check,
  type ReadinessFacts,
  type ReadinessOutlet,
} from '../src/readiness/readiness.js';
import { lastMinuteChecks, openChecks, stageProgress } from '../src/readiness/open-checks.js';
import { readStrip, STRIP_CELLS, stripCells } from '../src/signal/code-strip.js';
import type { LoudnessReport } from '../src/loudness/loudness-meter.js';
import { isArriving, SourceMeter, type SourceReport } from '../src/signal/source-report.js';
import { parseAacConfig, parseAvcConfig } from '../src/ingest/codec-config.js';
import { NO_TIMING } from '../src/signal/source-timing.js';

const DOORS = 1_000_000_000;
const DAY_MS = 86_400_000;
const RIGHT: LoudnessReport = {
  momentaryLufs: -22,
  shortTermLufs: -23,
  integratedLufs: -22.6,
  truePeakDbtp: -6,
  recentPeakDbtp: -6,
  silentMs: 0,
};
const report: SourceReport = {
  sinceMs: 0,
  remoteAddress: '127.0.0.1',
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
  audio: { codec: 'mp4a.40.2', sampleRateHz: 48_000, channels: 2, bitrateBps: 128_000, loudness: RIGHT },
};
const ready: ReadinessFacts = {
  state: 'planned',
  nowMs: DOORS,
  doorsAtMs: DOORS,
  source: { id: 's', name: 'Tower box', kind: 'device', hasFile: false, strayed: null, advice: null },
  report,
  standby: null,
  nodeIsHere: true,
  hasPoster: true,
  poorColours: 0,
  nobodyCanWatch: null,
  film: null,
  overrun: null,
  brokenPlaces: [],
  placeCount: 1,
  outlets: [],
  people: [{ duty: 'operator', name: 'Odo', answer: 'yes', elsewhere: null }],
  clash: null,
  sizes: { choice: 'off', ladder: null, roomCores: 1 },
  diskFreeBytes: 1e12,
  plannedMs: 5_400_000,
};
const SMALL = [{ name: '360p', widthPx: 640, heightPx: 360, videoBitrateBps: 700_000 }];
const open = (over: Partial<ReadinessFacts>): string[] =>
  openChecks(checkReadiness({ ...ready, ...over })).map((c) => `${c.status} ${c.code}`);

describe('Ready to go on air?', () => {
  test('nothing stands in the way of an event that has everything', () => {
    expect(open({})).toEqual([]);
  });

  test('a film that has not come to the node is missed from a day before on', () => {
    const film = { isAtNode: false };
    expect(open({ film })).toEqual(['warns film']);
    expect(open({ film, nowMs: DOORS - 25 * 3_600_000 })).not.toContain('warns film');
    expect(open({ film: { isAtNode: true } })).toEqual([]);
    expect(open({ film, nodeIsHere: false })).not.toContain('warns film');
  });

  test.each<[string, Partial<ReadinessFacts['sizes']>, string[]]>([
    ['none, whatever room there is', { choice: 'off', roomCores: 0 }, []],
    ['as many as fit', { choice: 'auto' }, []],
    ['as many as fit, when none does', { choice: 'auto', roomCores: 0.1 }, ['warns sizes']],
    ['a size that there is no room for', { choice: choiceIn('480p'), roomCores: 0.1 }, ['warns sizes']],
    ['a size that is no smaller', { choice: choiceIn('1080p,480p') }, ['advises sizes']],
    ['while nobody knows what there is room for', { choice: 'auto', roomCores: null }, []],
    [
      'one that is being made, with no room for another',
      {
        choice: 'auto',
        roomCores: 0,
        ladder: { renditions: SMALL, leftOut: [{ heightPx: 480, why: 'no-room' }] },
      },
      [],
    ],
  ])('smaller pictures: %s', (_what, over, found) => {
    expect(open({ sizes: { ...ready.sizes, ...over } })).toEqual(found);
  });

  test('a page that many cannot read is warned of, once that is near', () => {
    expect(open({ poorColours: 2 })).toEqual(['warns look']);
    expect(open({ nobodyCanWatch: 'no-password' })).toEqual(['warns watching']);
    expect(open({ poorColours: 2, nowMs: DOORS - 15 * 86_400_000 })).not.toContain('warns look');
  });

  test('what it would run into is advised of, and no more', () => {
    expect(open({ overrun: { title: 'Choir', opensAtMs: DOORS } })).toEqual(['advises overrun']);
  });

  const outlet = (over: Partial<ReadinessOutlet>): ReadinessOutlet => ({
    name: 'Lantern Quay Commons at Skerry',
    accountId: 'a',
    accountName: 'Ines Tarrow',
    platform: 'skerry',
    platformName: 'Skerry',
    hasEnded: false,
    consentEndsAtMs: DOORS + 30 * DAY_MS,
    isThere: true,
    hasLetIn: true,
    audience: 'everyone',
    ...over,
  });
  test.each<[string, Partial<ReadinessOutlet>, string[]]>([
    ['that is in order', {}, []],
    ['whose consent has ended', { hasEnded: true, isThere: false }, ['stops accounts']],
    ['that is not there any more', { isThere: false }, ['stops accounts']],
    ['that has not let us in', { hasLetIn: false }, ['stops accounts']],
    ['whose consent ends while it is on', { consentEndsAtMs: DOORS + 60_000 }, ['warns accounts']],
    ['that only its owner sees', { audience: 'only-me' }, ['warns accounts']],
    ['that friends see', { audience: 'friends' }, []],
  ])('an outlet %s', (_what, over, found) => {
    const outlets = [outlet({}), outlet(over)];
    expect(open({ outlets })).toEqual(found);
    expect(open({ outlets, nowMs: DOORS - 7 * DAY_MS })).toEqual(expect.arrayContaining(found));
    expect(open({ outlets, nowMs: DOORS - 8 * DAY_MS })).not.toContain('stops accounts');
  });

  test('of several outlets the heaviest trouble is told, and how many there are', () => {
    const outlets = [
      outlet({ audience: 'only-me' }),
      outlet({ hasLetIn: false, name: 'Friends of the Quay' }),
    ];
    const check = checkReadiness({ ...ready, outlets }).find(({ code }) => code === 'accounts')!;
    expect(check.detail).toMatchObject({ kind: 'not-let-in', name: 'Friends of the Quay', count: 2 });
  });

  const asked = (over: Partial<AskedPerson>): AskedPerson => ({
    duty: 'operator',
    name: 'Odo',
    answer: 'yes',
    elsewhere: null,
    ...over,
  });
  const seen = (over: Partial<NonNullable<SourceReport['video']>>): SourceReport => ({
    ...report,
    video: { ...report.video!, ...over },
  });
  const keyframes = (keyframeIntervalMs: number): SourceReport => seen({ keyframeIntervalMs });
  const heard = (over: Partial<LoudnessReport>): SourceReport => ({
    ...report,
    audio: { ...report.audio!, loudness: { ...RIGHT, ...over } },
  });
  test.each<[string, Partial<ReadinessFacts>, string[]]>([
    ['no source', { source: null, report: null }, ['stops source-chosen']],
    ['a source that is not here when it is expected', { report: null }, ['stops source-here']],
    ['a source long before the doors', { report: null, nowMs: DOORS - 3_600_000 }, []],
    ['no sound', { report: { ...report, audio: null } }, ['warns sound']],
    ['sound alone', { report: { ...report, video: null } }, ['warns picture']],
    ['a black picture', { report: seen({ blackMs: 6000 }) }, ['warns picture']],
    ['a picture that stands still', { report: seen({ frozenMs: 1 }) }, ['advises picture']],
    ['silence', { report: heard({ silentMs: 12_000 }) }, ['warns loudness']],
    ['sound that clips', { report: heard({ truePeakDbtp: -0.2 }) }, ['warns loudness']],
    ['sound that is far too loud', { report: heard({ integratedLufs: -9 }) }, ['warns loudness']],
    ['sound that is very quiet', { report: heard({ integratedLufs: -40 }) }, ['advises loudness']],
    ['a keyframe every 10 s', { report: keyframes(10_000) }, ['warns keyframes']],
    ['no poster', { hasPoster: false }, ['warns poster']],
    ['a place without a right address', { brokenPlaces: ['Coast relay'] }, ['stops places']],
    ['nobody at the desk', { people: [] }, ['advises people']],
    ['somebody who cannot come', { people: [asked({ answer: 'no' })] }, ['warns people']],
    ['a stand-in for them', { people: [asked({ answer: 'no' }), asked({ name: 'Pell' })] }, []],
    ['somebody in two places', { people: [asked({ elsewhere: 'Choir' })] }, ['warns people']],
    ['somebody who has not answered', { people: [asked({ answer: null })] }, ['advises people']],
    [
      'another event on the source',
      { clash: { eventId: 'e', title: 'Choir', place: null } },
      ['warns source-free'],
    ],
    ['a full disk', { diskFreeBytes: 1e9 }, ['warns disk']],
  ])('%s', (_name, over, expected) => {
    expect(open(over)).toEqual(expected);
  });

  test.each<[string, number, Partial<ReadinessFacts>, string[]]>([
    ['a missing poster', 15, { hasPoster: false }, []],
    ['a missing poster', 13, { hasPoster: false }, ['warns poster']],
    ['an empty desk', 15, { people: [] }, []],
    ['a letter without an answer', 4, { people: [asked({ answer: null })] }, []],
    ['a letter without an answer', 2, { people: [asked({ answer: null })] }, ['advises people']],
    ['a missing source', 80, { source: null, report: null }, ['stops source-chosen']],
    ['a full disk', 3, { diskFreeBytes: 1e9 }, []],
  ])('%s, %i days ahead, is said when it is worth saying', (_name, days, over, expected) => {
    expect(open({ nowMs: DOORS - days * 86_400_000, report: null, ...over })).toEqual(expected);
  });

  test('of several things the matter with people, the worst is said', () => {
    const kindOf = (people: readonly AskedPerson[]): unknown =>
      checkReadiness({ ...ready, people }).find(({ code }) => code === 'people')!.detail.kind;
    const cannot = asked({ duty: 'moderator', name: 'Pell', answer: 'no' });
    const twice = asked({ duty: 'producer', name: 'Ines', elsewhere: 'Choir' });
    const silent = asked({ answer: null });
    expect(kindOf([silent, twice, cannot])).toBe('cannot');
    expect(kindOf([silent, twice])).toBe('twice');
    expect(kindOf([silent])).toBe('unanswered');
    expect(kindOf([asked({ duty: 'producer', answer: null })])).toBe('nobody');
    expect(kindOf([asked({})])).toBeUndefined();
    // Who said no is in nobody's way elsewhere.
    expect(kindOf([asked({ answer: 'no', elsewhere: 'Choir' }), asked({ name: 'Maren' })])).toBeUndefined();
  });

  test('what stops comes before what warns', () => {
    expect(open({ hasPoster: false, source: null, report: null })).toEqual([
      'stops source-chosen',
      'warns poster',
    ]);
  });

  test('a stage fills with what has passed in it', () => {
    const checks: Check[] = checkReadiness({ ...ready, hasPoster: false });
    expect(stageProgress(checks, 'plan')).toMatchObject({ open: 1, later: 0 });
    expect(stageProgress(checks, 'connect')).toEqual({ done: 1, open: 0, later: 0 });
  });
});

test('of a source whose ingest point has gone it is known where to send meanwhile', () => {
  const strayed = { gone: 'Quay House', sendTo: 'Hill House' };
  const checks = checkReadiness({ ...ready, report: null, source: { ...ready.source!, strayed } });
  const missing = checks.find(({ code }) => code === 'source-here')!;
  expect(missing).toMatchObject({ status: 'stops', detail: strayed });
});

describe('a second source', () => {
  const standby = (over: object) => ({ name: 'Balcony', report: ready.report, isAtNode: true, ...over });
  const larger = {
    ...ready.report!,
    video: { ...ready.report!.video!, widthPx: 1920, heightPx: 1080 },
  };
  test.each([
    ['none is wanted', null, 'passed', undefined],
    ['it is there, coded alike', standby({}), 'passed', undefined],
    ['it is not sending', standby({ report: null }), 'warns', 'away'],
    ['it sends to another point', standby({ isAtNode: false }), 'warns', 'elsewhere'],
    ['it sends another size', standby({ report: larger }), 'advises', 'differs'],
  ])('%s', (_name, facts, status, kind) => {
    const check = checkReadiness({ ...ready, standby: facts }).find(({ code }) => code === 'standby')!;
    expect([check.status, check.detail.kind]).toEqual([status, kind]);
  });
});

describe('the source meter', () => {
  test('measures rate and keyframe interval over the last seconds', () => {
    const meter = new SourceMeter(0, '10.0.0.1', 'rtmp');
    meter.videoConfigured({ codec: 'avc1.64001f', widthPx: 1280, heightPx: 720 });
    for (let frame = 0; frame < 120; frame += 1) {
      meter.videoFrame(1000 + (frame * 1000) / 30, 10_000, frame * 33.333, frame % 60 === 0);
    }
    const video = meter.report(5000).video!;
    expect(video.frameRateFps).toBeCloseTo(30, 0);
    expect(video.bitrateBps / 1e6).toBeCloseTo(2.4, 1);
    expect(Math.round(video.keyframeIntervalMs!)).toBe(2000);
  });

  test.each([
    ['in a pause of five seconds', 9000, 36.5],
    ['before it was connected', 4000, 120],
  ])(
    'what was saved up %s and comes at once is not taken for a high rate',
    (_when, pausedUntilMs, mostFps) => {
      const meter = new SourceMeter(0, '10.0.0.1', 'rtmp');
      meter.videoConfigured({ codec: 'avc1.64001f', widthPx: 1280, heightPx: 720 });
      for (let atMs = 0; atMs <= 4000 && pausedUntilMs > 4000; atMs += 40) {
        meter.videoFrame(atMs, 10_000, atMs, false);
        meter.report(atMs);
      }
      for (let frame = 0; frame <= 120; frame += 1)
        meter.videoFrame(pausedUntilMs + frame / 6, 10_000, 4000 + frame * 40, false);
      const { frameRateFps, bitrateBps } = meter.report(pausedUntilMs + 100).video!;
      expect(frameRateFps).toBeLessThanOrEqual(mostFps);
      expect(frameRateFps).toBeGreaterThan(20);
      expect(bitrateBps).toBeCloseTo(frameRateFps * 80_000, -5);
    },
  );

  test('the signal is gone three seconds after the last picture', () => {
    const meter = new SourceMeter(0, '10.0.0.1', 'rtmp');
    expect(meter.isPresent(0)).toBe(false);
    meter.videoFrame(1000, 10, 0, true);
    expect([3999, 4000].map((ms) => meter.isPresent(ms))).toEqual([true, false]);
  });

  test('a connection that stands open without frames is not arriving; sound alone is, where there is no picture', () => {
    const meter = new SourceMeter(0, '10.0.0.1', 'camera');
    expect(isArriving(meter.report(0))).toBe(false);
    meter.videoConfigured({ codec: 'avc1.64001f', widthPx: 1280, heightPx: 720 });
    for (const atMs of [1000, 1040, 1080]) meter.videoFrame(atMs, 10_000, atMs, false);
    expect(isArriving(meter.report(2000))).toBe(true);
    expect(isArriving(meter.report(6000))).toBe(false);

    const radio = new SourceMeter(0, '10.0.0.1', 'rtmp');
    radio.audioConfigured({ codec: 'mp4a.40.2', sampleRateHz: 48_000, channels: 2 });
    radio.audioFrame(1000, 300, 0);
    expect([2000, 6000].map((ms) => isArriving(radio.report(ms)))).toEqual([true, false]);
  });
});

describe('codec configurations', () => {
  // From x264 at 1280 × 720, High profile, level 3.1.
  const avc = Uint8Array.from(
    Buffer.from('0164001fffe1001a6764001facd9405005bb016a02020280000003008000001e478c1924', 'hex'),
  );
  test('the size of the picture is read off the sequence parameter set', () => {
    expect(parseAvcConfig(avc)).toEqual({
      ok: true,
      value: { codec: 'avc1.64001f', widthPx: 1280, heightPx: 720 },
    });
  });
  test('AAC-LC, 48 kHz, stereo', () => {
    expect(parseAacConfig(Uint8Array.of(0x11, 0x90))).toEqual({
      ok: true,
      value: { codec: 'mp4a.40.2', sampleRateHz: 48_000, channels: 2 },
    });
  });
  test('what is cut short is refused, wherever it is cut', () => {
    for (let length = 0; length < 14; length += 1)
      expect(parseAvcConfig(avc.subarray(0, length)).ok).toBe(false);
    expect(parseAacConfig(new Uint8Array(0)).ok).toBe(false);
  });
});

test('a frame’s number survives the strip, and a picture without one says so', () => {
  for (const frame of [0, 1, 1799, 4095]) {
    expect(readStrip(stripCells(frame).map((cell) => (cell ? 200 : 40)))).toBe(frame);
  }
  expect(readStrip(Array(STRIP_CELLS).fill(128))).toBeNull();
  const flipped = stripCells(5).map((cell, index) => (index === 8 ? 1 - cell : cell) * 255);
  expect(readStrip(flipped)).toBeNull();
});

describe('the last minutes', () => {
  const left = (over: Partial<ReadinessFacts>): string[] =>
    lastMinuteChecks(checkReadiness({ ...ready, ...over })).map(({ code }) => code);

  test('name what is open and can still be put right, worst first', () => {
    expect(left({ report: null, brokenPlaces: ['Coast relay'], hasPoster: false })).toEqual([
      'places',
      'source-here',
    ]);
  });

  test('leave out what takes longer, and what no viewer would notice', () => {
    expect(left({})).toEqual([]);
    expect(left({ hasPoster: false, people: [], diskFreeBytes: 0 })).toEqual([]);
  });
});
