import { describe, expect, test } from '@jest/globals';
import { SourceTiming, type TimingReport } from '../src/signal/source-timing.js';

const EVERY_MS = 40;

/** Pictures that are taken every 40 ms, each arriving when `arrives` says. */
function timingOf(
  pictures: number,
  arrives: (sourceMs: number) => number,
  sourceMsOf = (nth: number): number => nth * EVERY_MS,
): TimingReport {
  const timing = new SourceTiming(4000);
  let atMs = 0;
  for (let nth = 0; nth < pictures; nth += 1) {
    const sourceMs = sourceMsOf(nth);
    atMs = arrives(sourceMs);
    timing.picture(atMs, sourceMs);
  }
  return timing.report(atMs);
}

describe('the time stamps of a source', () => {
  test('that arrive as they were taken are not late, however far the two clocks are apart', () => {
    expect(timingOf(200, (sourceMs) => sourceMs + 5_000_000)).toMatchObject({
      encodedFps: 25,
      lateMs: 0,
      jumps: 0,
      longestGapMs: EVERY_MS,
    });
  });

  test('are late by what the line has fallen behind', () => {
    const { lateMs, encodedFps } = timingOf(
      400,
      (sourceMs) => sourceMs + Math.max(0, sourceMs - 8000) * 0.25,
    );
    expect(Math.abs(lateMs - 2000)).toBeLessThan(30);
    expect(encodedFps).toBe(25);
  });

  test('drift with their clock without being late', () => {
    expect(timingOf(90_000, (sourceMs) => sourceMs * 1.0002).lateMs).toBe(0);
  });

  test('tell what the encoder left out', () => {
    const { encodedFps, longestGapMs } = timingOf(
      200,
      (sourceMs) => sourceMs,
      (nth) => Math.floor(nth * 2) * EVERY_MS,
    );
    expect([encodedFps, longestGapMs]).toEqual([12.5, 80]);
  });

  test('that leap start a new count, and are not late by the leap', () => {
    const leap = timingOf(
      200,
      (sourceMs) => sourceMs % 3_600_000,
      (nth) => (nth < 100 ? nth * EVERY_MS : 3_600_000 + nth * EVERY_MS),
    );
    expect(leap).toMatchObject({ jumps: 1, lateMs: 0, encodedFps: 25 });
  });

  test('say how far sound and picture are apart, until the sound has stopped', () => {
    const timing = new SourceTiming(4000);
    const until = (fromMs: number, toMs: number, hasSound: boolean): number | null => {
      for (let ms = fromMs; ms < toMs; ms += EVERY_MS) {
        if (hasSound) timing.sound(ms, ms - 700);
        timing.picture(ms, ms);
      }
      return timing.report(toMs).soundAheadMs;
    };
    expect(until(0, 4000, true)).toBe(-700);
    expect(until(4000, 12_000, false)).toBeNull();
  });
});
