import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { localOf } from '../src/schedule/civil-time.js';
import { occurrencesOf, readRule, type Repetition } from '../src/schedule/recurrence.js';
import { type Rule, usualRules, WEEKDAYS, withEnd } from '../src/schedule/rule-choices.js';

const ruleOf = (text: string): Rule => {
  const read = readRule(text);
  if (!read.ok) throw new Error(read.error.code);
  return read.value;
};
const sundays: Repetition = {
  rule: ruleOf('FREQ=WEEKLY;BYDAY=SU'),
  firstDate: '2026-03-01',
  timeOfDay: '10:30',
  zone: 'Europe/London',
};
const datesOf = (repetition: Repetition, from: string, to: string): string[] =>
  occurrencesOf(repetition, from, to, 100).map(({ date }) => date);

describe('a rule', () => {
  test('is read as people paste it', () => {
    const rule = ruleOf(' rrule:freq=monthly;byday=-1su;count=6 ');
    expect(rule).toMatchObject({
      text: 'FREQ=MONTHLY;BYDAY=-1SU;COUNT=6',
      every: 1,
      unit: 'month',
      count: 6,
    });
    expect(rule.weekdays).toEqual([{ weekday: 7, nth: -1 }]);
    expect(ruleOf('FREQ=WEEKLY;UNTIL=20260401T225959Z')).toMatchObject({
      text: 'FREQ=WEEKLY;UNTIL=20260401',
      untilDate: '2026-04-01',
    });
  });

  test.each([
    ['', 'not-a-rule'],
    ['every Sunday', 'not-a-rule'],
    ['FREQ=WEEKLY;BYDAY=XX', 'not-a-rule'],
    ['FREQ=WEEKLY;INTERVAL=0', 'not-a-rule'],
    ['FREQ=HOURLY', 'part-unknown'],
    ['FREQ=SECONDLY', 'part-unknown'],
    ['FREQ=WEEKLY;BYHOUR=3', 'part-unknown'],
    ['FREQ=WEEKLY;RSCALE=HEBREW', 'part-unknown'],
    ['FREQ=WEEKLY;INTERVAL=101', 'too-large'],
    ['FREQ=DAILY;COUNT=1000000', 'too-large'],
    [`FREQ=WEEKLY;BYDAY=${'SU,'.repeat(200)}MO`, 'not-a-rule'],
  ])('that is none is refused: %s', (text, code) => {
    expect(readRule(text)).toMatchObject({ ok: false, error: { code } });
  });

  test('survives whatever is typed', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 400 }), (text) => {
        expect(typeof readRule(text).ok).toBe('boolean');
      }),
    );
  });

  test('gets another end, and has only one', () => {
    expect(withEnd('FREQ=WEEKLY;COUNT=3;BYDAY=SU', { untilDate: '2026-12-24' })).toBe(
      'FREQ=WEEKLY;BYDAY=SU;UNTIL=20261224',
    );
    expect(withEnd('FREQ=WEEKLY;UNTIL=20260101', { count: 4 })).toBe('FREQ=WEEKLY;COUNT=4');
    expect(withEnd('FREQ=WEEKLY;UNTIL=20260101', null)).toBe('FREQ=WEEKLY');
  });

  test('is offered by its first date', () => {
    const kinds = (date: string): string[] => usualRules(date).map(({ kind }) => kind);
    expect(kinds('2026-03-08')).toEqual(['weekly', 'other-week', 'nth', 'daily']);
    expect(kinds('2026-03-22')).toEqual(['weekly', 'other-week', 'nth', 'daily']);
    expect(kinds('2026-03-29')).toEqual(['weekly', 'other-week', 'last', 'daily']);
    expect(kinds('2026-02-22')).toEqual(['weekly', 'other-week', 'nth', 'last', 'daily']);
  });

  test('that is offered says what its text says', () => {
    for (const date of ['2026-03-08', '2026-02-22'])
      for (const { rule } of usualRules(date)) expect(ruleOf(rule.text)).toEqual(rule);
  });
});

describe('the dates of a repetition', () => {
  test('are every Sunday, every other one, the last of each month', () => {
    expect(datesOf(sundays, '2026-03-05', '2026-03-22')).toEqual(['2026-03-08', '2026-03-15', '2026-03-22']);
    const other = { ...sundays, rule: ruleOf('FREQ=WEEKLY;INTERVAL=2;BYDAY=SU') };
    expect(datesOf(other, '2026-03-01', '2026-04-01')).toEqual(['2026-03-01', '2026-03-15', '2026-03-29']);
    const last = { ...sundays, rule: ruleOf('FREQ=MONTHLY;BYDAY=-1SU') };
    expect(datesOf(last, '2026-03-01', '2026-06-01')).toEqual(['2026-03-29', '2026-04-26', '2026-05-31']);
  });

  test('end after a day, or after so many', () => {
    const until = { ...sundays, rule: ruleOf('FREQ=WEEKLY;BYDAY=SU;UNTIL=20260315') };
    expect(datesOf(until, '2026-03-01', '2026-12-31')).toHaveLength(3);
    const count = { ...sundays, rule: ruleOf('FREQ=WEEKLY;BYDAY=SU;COUNT=4') };
    // Those before the days asked for count as well.
    expect(datesOf(count, '2026-03-10', '2026-12-31')).toEqual(['2026-03-15', '2026-03-22']);
  });

  test('keep their time by the clock on the wall when the clocks change', () => {
    const starts = occurrencesOf(sundays, '2026-03-22', '2026-03-29', 2).map(({ startsAtMs }) => startsAtMs);
    expect(starts).toEqual([Date.UTC(2026, 2, 22, 10, 30), Date.UTC(2026, 2, 29, 9, 30)]);
  });

  test('move on where the clocks skip their time, and take the first where it comes twice', () => {
    const night = { ...sundays, timeOfDay: '01:30' };
    expect(occurrencesOf(night, '2026-03-29', '2026-03-29', 1)).toEqual([
      { date: '2026-03-29', startsAtMs: Date.UTC(2026, 2, 29, 1, 30), shiftedTo: '02:30' },
    ]);
    expect(occurrencesOf(night, '2026-10-25', '2026-10-25', 1)).toEqual([
      { date: '2026-10-25', startsAtMs: Date.UTC(2026, 9, 25, 0, 30), shiftedTo: null },
    ]);
  });

  test('are on their day even where that day begins late, or is missing', () => {
    const daily = { ...sundays, rule: ruleOf('FREQ=DAILY'), timeOfDay: '00:00' };
    // Samoa went without 30 December 2011.
    const samoa = { ...daily, firstDate: '2011-12-28', zone: 'Pacific/Apia' };
    const found = occurrencesOf(samoa, '2011-12-29', '2011-12-31', 5);
    expect(found.map(({ startsAtMs }) => localOf(startsAtMs, samoa.zone).slice(0, 10))).toEqual([
      '2011-12-29',
      '2011-12-31',
      '2011-12-31',
    ]);
  });

  test('are none where a rule never comes true, and never more than asked for', () => {
    const never = { ...sundays, rule: ruleOf('FREQ=MONTHLY;BYMONTH=2;BYMONTHDAY=31') };
    expect(occurrencesOf(never, '2026-01-01', '2030-12-31', 10)).toEqual([]);
    expect(occurrencesOf(sundays, '2026-03-01', '3026-03-01', 10)).toHaveLength(10);
  });

  test('of any weekly rule fall on its weekdays, at its time wherever that exists', () => {
    const zones = ['Europe/London', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'UTC'];
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.constantFrom(...WEEKDAYS), { minLength: 1 }),
        fc.integer({ min: 1, max: 5 }),
        fc.constantFrom(...zones),
        fc.integer({ min: 0, max: 23 }),
        (weekdays, every, zone, hour) => {
          const timeOfDay = `${String(hour).padStart(2, '0')}:30`;
          const rule = ruleOf(`FREQ=WEEKLY;INTERVAL=${every};BYDAY=${weekdays.join()}`);
          const found = occurrencesOf({ ...sundays, rule, zone, timeOfDay }, '2026-03-01', '2027-03-01', 400);
          expect(found.length).toBeGreaterThan(0);
          for (const { date, startsAtMs, shiftedTo } of found) {
            const day = (new Date(`${date}T00:00Z`).getUTCDay() + 6) % 7;
            expect(weekdays).toContain(WEEKDAYS[day]);
            expect(localOf(startsAtMs, zone)).toBe(`${date}T${shiftedTo ?? timeOfDay}`);
          }
        },
      ),
      { numRuns: 40 },
    );
  });
});
