import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  ABSENT,
  afterPictureOf,
  type Choosing,
  shouldTakeOver,
  type SourcePresence,
} from '../src/media/source-choice.js';

const steady = (sinceMs: number, lastAtMs: number): SourcePresence => ({ steadySinceMs: sinceMs, lastAtMs });
const choosing = (over: Partial<Choosing>): Choosing => ({
  feeding: steady(0, 10_000),
  waiting: steady(0, 10_000),
  isWaitingPreferred: false,
  isHurried: false,
  afterMs: 1000,
  ...over,
});

describe('the source that waits takes over', () => {
  test.each<[string, Partial<Choosing>, number, boolean]>([
    ['while the other sends', {}, 10_000, false],
    ['once the other has been silent for long enough', {}, 11_000, true],
    ['not before that', {}, 10_999, false],
    ['at once where the other’s connection has closed', { feeding: ABSENT }, 10_000, true],
    [
      'not before it has shown that it is there',
      { feeding: ABSENT, waiting: steady(9800, 10_000) },
      10_000,
      false,
    ],
    ['not without a picture of its own', { feeding: ABSENT, waiting: ABSENT }, 10_000, false],
    [
      'when it is the preferred one and has been steady for five seconds',
      { isWaitingPreferred: true, waiting: steady(5000, 10_000) },
      10_000,
      true,
    ],
    [
      'not when it has only just come back',
      { isWaitingPreferred: true, waiting: steady(5001, 10_000) },
      10_000,
      false,
    ],
    [
      'sooner than that where the other is gone',
      { isWaitingPreferred: true, waiting: steady(9000, 10_000), feeding: ABSENT },
      10_000,
      true,
    ],
    ['never by itself where that is not wanted', { afterMs: null, feeding: ABSENT }, 60_000, false],
    [
      'by hand with its first picture',
      { afterMs: null, isHurried: true, waiting: steady(10_000, 10_000) },
      10_000,
      true,
    ],
    ['by hand not before there is one', { isHurried: true, waiting: ABSENT }, 10_000, false],
  ])('%s', (_when, over, nowMs, takes) => {
    expect(shouldTakeOver(choosing(over), nowMs)).toBe(takes);
  });
});

test('pictures are steady from the first after a pause on', () => {
  const times = [0, 40, 80, 1500, 1540];
  expect(times.reduce(afterPictureOf, ABSENT)).toEqual({ lastAtMs: 1540, steadySinceMs: 1500 });
});

test('however two sources come and go, the programme does not turn more often than once in five seconds for want of preference', () => {
  const coming = fc.array(fc.record({ first: fc.boolean(), second: fc.boolean() }), {
    minLength: 20,
    maxLength: 120,
  });
  fc.assert(
    fc.property(coming, (steps) => {
      let presence = { first: ABSENT, second: ABSENT };
      let feeds: 'first' | 'second' = 'first';
      const backAtMs: number[] = [];
      let wentAtMs = -Infinity;
      steps.forEach((step, nth) => {
        const nowMs = nth * 500;
        if (step.first) presence = { ...presence, first: afterPictureOf(presence.first, nowMs) };
        if (step.second) presence = { ...presence, second: afterPictureOf(presence.second, nowMs) };
        const waits: 'first' | 'second' = feeds === 'first' ? 'second' : 'first';
        if (!step[waits]) return;
        const facts = {
          feeding: presence[feeds],
          waiting: presence[waits],
          isWaitingPreferred: waits === 'first',
          isHurried: false,
          afterMs: 1000,
        };
        if (!shouldTakeOver(facts, nowMs)) return;
        const wasSilent = facts.feeding.lastAtMs === null || nowMs - facts.feeding.lastAtMs >= 1000;
        // The way back without need is taken only from a second source that has fed it for a while.
        if (waits === 'first' && !wasSilent) backAtMs.push(nowMs - wentAtMs);
        if (waits === 'second') wentAtMs = nowMs;
        feeds = waits;
      });
      for (const stayedMs of backAtMs) expect(stayedMs).toBeGreaterThanOrEqual(4500);
    }),
  );
});
