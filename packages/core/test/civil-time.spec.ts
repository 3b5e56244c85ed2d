import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addDays, hourOfDay, instantOf, isZone, localOf, startOfDay } from '../src/schedule/civil-time.js';
import { layOutWeek } from '../src/schedule/rota.js';

const LONDON = 'Europe/London';
const HOUR_MS = 3_600_000;

describe('civil time', () => {
  test('an instant read in its zone and written again is the same, at every hour of a year', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(LONDON, 'America/St_Johns', 'Australia/Lord_Howe', 'UTC'),
        fc.nat(525_600),
        (zone, minute) => {
          const local = localOf(Date.UTC(2026, 0, 1) + minute * 60_000, zone);
          const back = instantOf(local, zone);
          expect(back.ok && localOf(back.value, zone)).toBe(local);
        },
      ),
    );
  });

  test('a time that the clocks jump over is refused, with the next one there is', () => {
    expect(instantOf('2026-03-29T01:30', LONDON)).toEqual({
      ok: false,
      error: { code: 'does-not-exist', nextLocal: '2026-03-29T02:00' },
    });
  });

  test('of a time that comes twice the first is taken', () => {
    expect(instantOf('2026-10-25T01:30', LONDON)).toEqual({ ok: true, value: Date.UTC(2026, 9, 25, 0, 30) });
  });

  test('what is no time or no zone is refused', () => {
    expect(instantOf('2026-02-30T10:00x', LONDON)).toMatchObject({ ok: false, error: { code: 'malformed' } });
    expect(instantOf('2026-02-03T10:00', 'Mars/Crater')).toMatchObject({
      ok: false,
      error: { code: 'no-such-zone' },
    });
    expect(isZone('Mars/Crater')).toBe(false);
  });

  test('a day on keeps the hour on the wall, though the day has 23 hours', () => {
    const saturday = Date.UTC(2026, 2, 28, 10);
    expect(addDays(saturday, 1, LONDON) - saturday).toBe(23 * HOUR_MS);
    expect(hourOfDay(addDays(saturday, 1, LONDON), LONDON)).toBe(10);
    expect(startOfDay(saturday, LONDON)).toBe(Date.UTC(2026, 2, 28));
  });
});

describe('the rota', () => {
  const day = Date.UTC(2026, 2, 7);
  const event = (id: string, fromHour: number, toHour: number) => ({
    id,
    doorsAtMs: day + (fromHour - 0.25) * HOUR_MS,
    startsAtMs: day + fromHour * HOUR_MS,
    stopsAtMs: day + toHour * HOUR_MS,
    hardStopAtMs: day + (toHour + 0.5) * HOUR_MS,
  });

  test('an event over midnight is drawn on both days', () => {
    const { days, ruler } = layOutWeek([event('watch-night', 22, 25)], day, LONDON);
    expect(days[0]!.bars[0]).toMatchObject({ programme: { fromHour: 22, toHour: 24 } });
    expect(days[1]!.bars[0]).toMatchObject({ programme: { fromHour: 0, toHour: 1 }, doors: null });
    expect(ruler).toEqual({ fromHour: 0, toHour: 24 });
  });

  test('the ruler shows 06 to 23 where nothing asks for more', () => {
    expect(layOutWeek([event('noon', 12, 13)], day, LONDON).ruler).toEqual({ fromHour: 6, toHour: 23 });
  });

  test('bars that would lie upon each other, or upon each other’s words, stand in rows', () => {
    const { days } = layOutWeek([event('a', 10, 11), event('b', 11.5, 12), event('c', 18, 19)], day, LONDON);
    expect(days[0]!.bars.map((bar) => bar.row)).toEqual([0, 1, 0]);
    expect(days[0]!.rows).toBe(2);
  });
});
