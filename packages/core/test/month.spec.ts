import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mergeSpans } from '../src/schedule/clashes.js';
import { localOf } from '../src/schedule/civil-time.js';
import { monthDays } from '../src/schedule/month.js';

const LONDON = 'Europe/London';
const datesOf = (instantMs: number, zone: string): string[] =>
  monthDays(instantMs, zone).map((ms) => localOf(ms, zone));

describe('a month as it is printed', () => {
  test('is of whole weeks from Monday on', () => {
    const dates = datesOf(Date.UTC(2026, 10, 24, 12), LONDON);
    expect([dates[0], dates.at(-1), dates.length]).toEqual(['2026-10-26T00:00', '2026-12-06T00:00', 42]);
  });

  test('of exactly four weeks has four', () => {
    expect(datesOf(Date.UTC(2027, 1, 14), LONDON)).toHaveLength(28);
  });

  test('begins each day at midnight by the clock on the wall, also where the clocks change', () => {
    const dates = datesOf(Date.UTC(2027, 2, 15), LONDON);
    expect(dates.every((date) => date.endsWith('T00:00'))).toBe(true);
    expect(dates).toContain('2027-03-28T00:00');
    // Where midnight itself is skipped the day begins when the clock begins.
    expect(datesOf(Date.UTC(2026, 8, 15), 'America/Santiago')).toContain('2026-09-06T01:00');
  });

  test('goes by the zone: an instant may be in another month there', () => {
    const newYear = Date.UTC(2027, 0, 1, 2);
    expect(datesOf(newYear, LONDON)).toContain('2027-01-31T00:00');
    expect(datesOf(newYear, 'America/New_York')).toContain('2026-12-01T00:00');
  });
});

describe('spans of time that are merged', () => {
  const span = fc
    .tuple(fc.integer({ min: 0, max: 200 }), fc.integer({ min: 1, max: 40 }))
    .map(([fromMs, length]) => ({ fromMs, toMs: fromMs + length }));

  test('touching and overlapping ones become one', () => {
    const spans = [
      { fromMs: 5, toMs: 9 },
      { fromMs: 0, toMs: 3 },
      { fromMs: 3, toMs: 4 },
      { fromMs: 6, toMs: 7 },
    ];
    expect(mergeSpans(spans)).toEqual([
      { fromMs: 0, toMs: 4 },
      { fromMs: 5, toMs: 9 },
    ]);
    expect(mergeSpans([])).toEqual([]);
    expect(mergeSpans(spans, 1)).toEqual([{ fromMs: 0, toMs: 9 }]);
  });

  test('cover the same instants, in order and apart', () => {
    const covers = (spans: readonly { fromMs: number; toMs: number }[], at: number): boolean =>
      spans.some(({ fromMs, toMs }) => fromMs <= at && at < toMs);
    fc.assert(
      fc.property(fc.array(span, { maxLength: 10 }), fc.integer({ min: 0, max: 250 }), (spans, at) => {
        const merged = mergeSpans(spans);
        expect(covers(merged, at)).toBe(covers(spans, at));
        for (const [nth, next] of merged.slice(1).entries())
          expect(next.fromMs).toBeGreaterThan(merged[nth]!.toMs);
      }),
    );
  });
});
