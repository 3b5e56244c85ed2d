import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseByteRange } from '../src/delivery/byte-range.js';
import { fitEmbed, PLAYER_BAR_PX } from '../src/delivery/embed-size.js';
import type { LiveWindow } from '../src/packaging/live-window.js';
import { ORIGINAL_FOLDER, renderLivePlaylist, SKIP_UNTIL_SECONDS } from '../src/packaging/playlist.js';
import { findSegment } from '../src/packaging/replay-range.js';
import { type DiskState, diskState } from '../src/storage/disk-space.js';

describe('byte ranges', () => {
  test.each([
    [undefined, null],
    ['bytes=0-99', { first: 0, last: 99 }],
    ['bytes=900-', { first: 900, last: 999 }],
    ['bytes=-100', { first: 900, last: 999 }],
    ['bytes=-5000', { first: 0, last: 999 }],
    ['bytes=0-999999', { first: 0, last: 999 }],
    ['bytes=1000-', 'unsatisfiable'],
    ['bytes=-0', 'unsatisfiable'],
    ['bytes=9-3', null],
    ['bytes=0-1,5-6', null],
    ['lines=1-2', null],
    ['bytes=-', null],
  ])('%s of a thousand bytes', (header, expected) => {
    expect(parseByteRange(header, 1000)).toEqual(expected);
  });
  test('what is satisfiable lies inside the file', () => {
    fc.assert(
      fc.property(fc.nat(5000), fc.nat(5000), fc.integer({ min: 1, max: 3000 }), (from, to, size) => {
        const range = parseByteRange(`bytes=${from}-${to}`, size);
        if (range === null || range === 'unsatisfiable') return;
        expect(range.first).toBeLessThanOrEqual(range.last);
        expect(range.last).toBeLessThan(size);
      }),
    );
  });
});

const WHOLE = { selection: 'whole', isDelta: false, folder: ORIGINAL_FOLDER, others: [] } as const;

describe('delta updates', () => {
  const segment = (sequence: number) => ({
    sequence,
    programmeMs: sequence * 2000,
    durationSeconds: 2,
    initNumber: sequence < 100 ? 0 : 1,
    discontinuity: sequence === 100,
    firstPart: sequence * 6,
    partCount: 6,
  });
  const window: LiveWindow = {
    segments: Array.from({ length: 200 }, (_, sequence) => ({ segment: segment(sequence), parts: [] })),
    droppedDiscontinuities: 0,
    begun: null,
    nextPart: 1200,
    ended: false,
    partTargetSeconds: 0.35,
  };
  const clock = { startsAtUtcMs: Date.UTC(2026, 2, 7, 10) };
  const whole = renderLivePlaylist(window, clock);
  const delta = renderLivePlaylist(window, clock, { ...WHOLE, isDelta: true });

  test('leave out what lies before the skip boundary, and count it', () => {
    const skipped = Number(/SKIPPED-SEGMENTS=(\d+)/.exec(delta)![1]);
    const listed = delta.match(/^seg-/gm)!.length;
    expect(skipped + listed).toBe(200);
    expect((listed - 1) * 2).toBeLessThanOrEqual(SKIP_UNTIL_SECONDS);
    expect(delta.length).toBeLessThan(whole.length / 5);
  });
  test('are the end of the whole playlist, line for line', () => {
    const tail = delta.slice(delta.indexOf('\n', delta.indexOf('EXT-X-SKIP')) + 1);
    expect(whole.endsWith(tail)).toBe(true);
  });
  test('a short playlist has nothing to leave out', () => {
    const short = { ...window, segments: window.segments.slice(-5) };
    expect(renderLivePlaylist(short, clock, { ...WHOLE, isDelta: true })).toBe(
      renderLivePlaylist(short, clock),
    );
  });
  test('a segment is found by its number, also where some were never kept', () => {
    const kept = [3, 4, 9, 12].map(segment);
    expect([4, 9, 5, 13].map((sequence) => findSegment(kept, sequence)?.sequence)).toEqual([
      4,
      9,
      undefined,
      undefined,
    ]);
  });
});

describe('room to record', () => {
  const state = (freeBytes: number, before: DiskState) =>
    diskState({ freeBytes, reserveBytes: 1000 }, before);
  test('is plenty, then low, then full', () => {
    expect([9000, 3999, 999].map((free) => state(free, 'plenty'))).toEqual(['plenty', 'low', 'full']);
  });
  test('once full it wants a little more before recording goes on', () => {
    expect([state(1100, 'full'), state(1251, 'full'), state(1100, 'low')]).toEqual(['full', 'low', 'low']);
  });
});

test('an embed takes what a website allows, picture and bar together', () => {
  expect(fitEmbed(null, null)).toEqual({ widthPx: 800, heightPx: 450 + PLAYER_BAR_PX });
  expect(fitEmbed(320, null)).toEqual({ widthPx: 320, heightPx: 180 + PLAYER_BAR_PX });
  const { widthPx, heightPx } = fitEmbed(2000, 400);
  expect(heightPx).toBeLessThanOrEqual(400);
  expect(widthPx).toBe(Math.floor(((400 - PLAYER_BAR_PX) * 16) / 9));
});

test('an embed never takes more than a website allows, however little that is', () => {
  const limit = fc.option(fc.integer({ min: 1, max: 5000 }));
  fc.assert(
    fc.property(limit, limit, (maxWidthPx, maxHeightPx) => {
      const { widthPx, heightPx } = fitEmbed(maxWidthPx, maxHeightPx);
      expect(Math.min(widthPx, heightPx)).toBeGreaterThanOrEqual(1);
      expect(widthPx).toBeLessThanOrEqual(maxWidthPx ?? Infinity);
      expect(heightPx).toBeLessThanOrEqual(maxHeightPx ?? Infinity);
    }),
  );
});
