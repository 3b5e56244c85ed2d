import { describe, expect, test } from '@jest/globals';
import { type LiveSigns, MissedWatch } from '../src/player/missed.js';

const signs = (change: Partial<LiveSigns>): LiveSigns => ({
  nowMs: 0,
  isAtEdge: true,
  isWaiting: false,
  seenMs: 500_000,
  behindSeconds: 1,
  ...change,
});

describe('what a viewer has missed', () => {
  test('while the device slept is known once the playlist is', () => {
    const watch = new MissedWatch();
    watch.look(signs({ nowMs: 1000 }));
    expect(watch.look(signs({ nowMs: 60_000, seenMs: 501_000 }))).toBeNull();
    expect(watch.look(signs({ nowMs: 61_000, behindSeconds: 62, isAtEdge: false }))).toEqual({
      fromMs: 500_000,
      lengthMs: 62_000,
    });
    expect(watch.look(signs({ nowMs: 61_250, behindSeconds: 62 }))).toBeNull();
  });

  test('while the line was away counts from what was seen last', () => {
    const watch = new MissedWatch();
    expect(watch.look(signs({ isWaiting: true }))).toBeNull();
    expect(watch.look(signs({ isWaiting: true, nowMs: 7000 }))).toBeNull();
    const back = signs({ isWaiting: true, nowMs: 40_000, behindSeconds: 41, isAtEdge: false });
    expect(watch.look(back)).toEqual({ fromMs: 500_000, lengthMs: 41_000 });
  });

  test('is nothing where somebody went back on purpose, or paused', () => {
    const watch = new MissedWatch();
    watch.look(signs({ isAtEdge: false }));
    expect(watch.look(signs({ behindSeconds: 300, isAtEdge: false }))).toBeNull();
    watch.look(signs({ isWaiting: true, isAtEdge: false }));
    expect(
      watch.look(signs({ isWaiting: true, nowMs: 9000, behindSeconds: 300, isAtEdge: false })),
    ).toBeNull();
  });

  test('is nothing where the picture was there all the time, or waited for a moment', () => {
    const watch = new MissedWatch();
    watch.look(signs({}));
    for (let nowMs = 6000; nowMs <= 24_000; nowMs += 250) expect(watch.look(signs({ nowMs }))).toBeNull();
    expect(watch.look(signs({ nowMs: 24_250, behindSeconds: 30 }))).toBeNull();
    watch.look(signs({ nowMs: 24_500, isWaiting: true }));
    expect(watch.look(signs({ nowMs: 27_000, isWaiting: true, behindSeconds: 12 }))).toBeNull();
  });
});
