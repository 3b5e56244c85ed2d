import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Occurrence } from '../src/schedule/recurrence.js';
import { type DatedEvent, planSeries, shownOf } from '../src/schedule/series-plan.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const on = (day: number): string => `2026-03-${String(day).padStart(2, '0')}`;
const occurrence = (day: number): Occurrence => ({
  date: on(day),
  startsAtMs: day * DAY_MS,
  shiftedTo: null,
});
const planned = (day: number, own: DatedEvent['ownFields'] = []): DatedEvent => ({
  eventId: `event-${day}`,
  date: on(day),
  state: 'planned',
  ownFields: own,
});
const nothing = new Set<string>();

describe('the events of a series', () => {
  test('come into being for dates that have none, but not for skipped ones', () => {
    const plan = planSeries([1, 8, 15].map(occurrence), [planned(1)], new Set([on(8)]));
    expect(plan.make.map(({ date }) => date)).toEqual([on(15)]);
    expect(plan.follow.map(({ eventId }) => eventId)).toEqual(['event-1']);
  });

  test('go with their date, unless somebody changed one', () => {
    const plan = planSeries([occurrence(8)], [planned(7), planned(14, ['title'])], nothing);
    expect(plan.remove.map(({ date }) => date)).toEqual([on(7)]);
    expect(plan.leave.map(({ date }) => date)).toEqual([on(14)]);
  });

  test.each(['doors', 'air', 'kept', 'cancelled'] as const)('are never touched once they are %s', (state) => {
    const begun = { ...planned(8), state };
    expect(planSeries([occurrence(8)], [begun], nothing)).toEqual({
      make: [],
      follow: [],
      remove: [],
      leave: [],
    });
    expect(planSeries([], [begun], nothing).remove).toEqual([]);
  });

  test('need nothing more when the plan has been carried out', () => {
    const days = fc.uniqueArray(fc.integer({ min: 1, max: 28 }));
    fc.assert(
      fc.property(days, days, days, (wanted, there, skippedDays) => {
        const skipped = new Set(skippedDays.map(on));
        const events = there.map((day) => planned(day, day % 3 === 0 ? ['when'] : []));
        const first = planSeries(wanted.map(occurrence), events, skipped);
        const after = [
          ...events.filter((event) => !first.remove.includes(event)),
          ...first.make.map(({ date }) => planned(Number(date.slice(8)))),
        ];
        const second = planSeries(wanted.map(occurrence), after, skipped);
        expect([second.make, second.remove]).toEqual([[], []]);
        expect(second.leave).toEqual(first.leave);
      }),
    );
  });
});

describe('the one address of a series', () => {
  const event = (state: 'planned' | 'doors' | 'air' | 'kept' | 'cancelled', day: number) => ({
    state,
    startsAtMs: day * DAY_MS,
    stopsAtMs: day * DAY_MS + HOUR_MS,
    endAtMs: state === 'kept' ? day * DAY_MS + HOUR_MS : null,
  });
  const [last, next] = [event('kept', 1), event('planned', 8)];

  test('shows what is on before all else', () => {
    const present = event('air', 4);
    expect(shownOf([next, last, present], 4 * DAY_MS)).toBe(present);
  });

  test('shows what has just ended for a day, then what comes next', () => {
    expect(shownOf([next, last], DAY_MS + 2 * HOUR_MS)).toBe(last);
    expect(shownOf([next, last], 3 * DAY_MS)).toBe(next);
  });

  test('turns to the next half a day before it begins', () => {
    const evening = event('planned', 1.5);
    expect(shownOf([evening, last], DAY_MS + HOUR_MS)).toBe(evening);
  });

  test('shows the last for good where none follows, and nothing where there was none', () => {
    expect(shownOf([last], 300 * DAY_MS)).toBe(last);
    expect(shownOf([], 0)).toBeNull();
  });

  test('says that the next was cancelled until its time is over', () => {
    const cancelled = event('cancelled', 8);
    expect(shownOf([last, cancelled], 5 * DAY_MS)).toBe(cancelled);
    expect(shownOf([last, cancelled], 9 * DAY_MS)).toBe(last);
  });
});
