import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DUTIES, type DutyDate, dutyNews, onDutyByTurns, standInFor } from '../src/duties/duties.js';

describe('taking turns', () => {
  const turns = [
    { duty: 'operator', personIds: ['odo', 'pell', 'ines'] },
    { duty: 'moderator', personIds: ['maren'] },
    { duty: 'producer', personIds: [] },
  ] as const;

  test('goes round each duty’s people by itself, and leaves out what nobody does', () => {
    expect([0, 1, 2, 3].map((turn) => onDutyByTurns(turns, turn)[0]!.personId)).toEqual([
      'odo',
      'pell',
      'ines',
      'odo',
    ]);
    expect(onDutyByTurns(turns, 7)).toEqual([
      { duty: 'operator', personId: 'pell' },
      { duty: 'moderator', personId: 'maren' },
    ]);
  });

  test('is fair: after as many dates as there are people, each has had as many turns', () => {
    const people = fc.uniqueArray(fc.string({ minLength: 1 }), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(people, fc.integer({ min: 0, max: 500 }), (personIds, from) => {
        const had = personIds.map((_, step) => onDutyByTurns([{ duty: 'operator', personIds }], from + step));
        expect(new Set(had.map(([on]) => on!.personId)).size).toBe(personIds.length);
      }),
    );
  });

  test('asks the next in turn when somebody cannot, and nobody who cannot either', () => {
    const people = ['odo', 'pell', 'ines'];
    expect(standInFor(people, 'odo', new Set())).toBe('pell');
    expect(standInFor(people, 'ines', new Set())).toBe('odo');
    expect(standInFor(people, 'odo', new Set(['pell']))).toBe('ines');
    expect(standInFor(people, 'odo', new Set(['pell', 'ines']))).toBeNull();
    expect(standInFor(people, 'somebody asked by hand', new Set())).toBe('odo');
    expect(standInFor([], 'odo', new Set())).toBeNull();
  });
});

describe('what people are told of their duties', () => {
  const date = (over: Partial<DutyDate> = {}): DutyDate => ({
    eventId: 'sunday',
    title: 'Evensong',
    startsAtMs: 1000,
    duty: 'operator',
    personId: 'odo',
    isOff: false,
    ...over,
  });

  test('they are asked once; a date that moves, is off or back on is told again', () => {
    expect(dutyNews([date()], [])).toEqual([{ personId: 'odo', asked: [date()], changed: [], released: [] }]);
    const later = date({ startsAtMs: 2000 });
    expect(dutyNews([later], [date()])[0]).toMatchObject({ asked: [], changed: [later] });
    const off = date({ isOff: true });
    expect(dutyNews([off], [date()])[0]).toMatchObject({ changed: [off] });
    expect(dutyNews([date()], [off])[0]).toMatchObject({ changed: [date()] });
  });

  test('who is not needed any more is told, and who stands in is asked', () => {
    const news = dutyNews([date({ personId: 'pell' })], [date()]);
    expect(news.map(({ personId, asked, released }) => [personId, asked.length, released.length])).toEqual([
      ['pell', 1, 0],
      ['odo', 0, 1],
    ]);
  });

  test('nobody is asked for a date that is off, nor released from one', () => {
    expect(dutyNews([date({ isOff: true })], [])).toEqual([]);
    expect(dutyNews([], [date({ isOff: true })])).toEqual([]);
  });

  test('told once, there is no news', () => {
    const dates = fc.uniqueArray(
      fc.record({
        eventId: fc.constantFrom('a', 'b', 'c'),
        title: fc.constant('Evensong'),
        startsAtMs: fc.integer({ min: 0, max: 3 }),
        duty: fc.constantFrom(...DUTIES),
        personId: fc.constantFrom('odo', 'pell'),
        isOff: fc.boolean(),
      }),
      { selector: ({ eventId, duty, personId }) => `${eventId}${duty}${personId}` },
    );
    fc.assert(
      fc.property(dates, dates, (now, told) => {
        const heard = dutyNews(now, told);
        expect(dutyNews(now, now)).toEqual([]);
        // Nobody hears of one duty in two ways.
        for (const { personId, asked, changed, released } of heard) {
          const all = [...asked, ...changed, ...released];
          expect(new Set(all.map(({ eventId, duty }) => eventId + duty)).size).toBe(all.length);
          expect(all.every((one) => one.personId === personId)).toBe(true);
        }
      }),
    );
  });
});
