import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  type Booking,
  findClashes,
  indexSpans,
  nearestFreeMoves,
  spansDuring,
} from '../src/schedule/clashes.js';

const MINUTE = 60_000;
const booking = (
  eventId: string,
  sourceId: string | null,
  from: number,
  to: number,
  placeIds: readonly string[] = [],
): Booking => ({
  eventId,
  sourceIds: sourceId === null ? [] : [sourceId],
  placeIds,
  fromMs: from * MINUTE,
  toMs: to * MINUTE,
});

describe('clashes', () => {
  const mine = booking('mine', 'desk', 10, 20, ['relay']);
  test.each<[string, Booking, string[]]>([
    ['the same source at the same time', booking('other', 'desk', 15, 25), ['source']],
    ['the same place at the same time', booking('other', 'pier', 15, 25, ['town', 'relay']), ['place']],
    ['ends that touch', booking('other', 'desk', 20, 30), []],
    ['another source and another place', booking('other', 'pier', 15, 25, ['town']), []],
    ['itself', mine, []],
    ['a second source', { ...booking('other', 'pier', 15, 25), sourceIds: ['pier', 'desk'] }, ['source']],
  ])('%s', (_name, other, over) => {
    expect(findClashes(mine, [other]).map((clash) => clash.over)).toEqual(over);
  });

  test('no source clashes with nothing', () => {
    expect(findClashes(booking('mine', null, 10, 20), [booking('other', null, 10, 20)])).toEqual([]);
  });
});

test('what is planned during a time is found as if all had been looked at', () => {
  const at = fc.integer({ min: 0, max: 500 });
  const span = fc.tuple(at, fc.integer({ min: 1, max: 200 }));
  fc.assert(
    fc.property(fc.array(span, { maxLength: 30 }), span, (plan, [from, length]) => {
      const spans = plan.map(([fromMs, lengthMs]) => ({ fromMs, toMs: fromMs + lengthMs }));
      const during = { fromMs: from, toMs: from + length };
      const found = spansDuring(indexSpans(spans), during);
      expect(found).toEqual(found.toSorted((a, b) => a.fromMs - b.fromMs));
      const wanted = spans.filter(({ fromMs, toMs }) => fromMs < during.toMs && during.fromMs < toMs);
      expect(new Set(found)).toEqual(new Set(wanted));
      expect(found).toHaveLength(wanted.length);
    }),
  );
});

describe('the nearest free time', () => {
  const moves = (mine: Booking, others: Booking[], now = -1e6): number[] =>
    nearestFreeMoves(mine, others, now * MINUTE, 7 * 24 * 60 * MINUTE).map((ms) => ms / MINUTE);
  const mine = booking('mine', 'desk', 600, 700);

  test('is before and after what is in the way, by quarters of an hour', () => {
    expect(moves(mine, [booking('choir', 'desk', 650, 760)])).toEqual([-60, 165]);
  });

  test('passes over what would be in the way there', () => {
    const others = [booking('choir', 'desk', 650, 760), booking('bells', 'desk', 770, 800)];
    expect(moves(mine, others)).toEqual([-60, 210]);
  });

  test('is not in the past, nor farther than one would go', () => {
    expect(moves(mine, [booking('choir', 'desk', 650, 760)], 560)).toEqual([165]);
    expect(moves(mine, [booking('for ever', 'desk', -1e6, 1e6)])).toEqual([]);
  });

  test('clashes with nothing, whatever is planned', () => {
    const other = fc.record({
      from: fc.integer({ min: 0, max: 2000 }),
      length: fc.integer({ min: 1, max: 300 }),
      source: fc.constantFrom('desk', 'pier'),
      places: fc.subarray(['relay', 'town']),
    });
    fc.assert(
      fc.property(fc.array(other, { maxLength: 12 }), (plan) => {
        const others = plan.map(({ from, length, source, places }, at) =>
          booking(`e${at}`, source, from, from + length, places),
        );
        const own = booking('mine', 'desk', 900, 1000, ['relay']);
        for (const byMs of nearestFreeMoves(own, others, 0, Infinity)) {
          const moved = { ...own, fromMs: own.fromMs + byMs, toMs: own.toMs + byMs };
          expect(findClashes(moved, others)).toEqual([]);
          expect(Math.abs(byMs % (15 * MINUTE))).toBe(0);
        }
      }),
    );
  });
});
