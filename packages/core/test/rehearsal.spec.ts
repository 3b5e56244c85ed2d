import { expect, test } from '@jest/globals';
import { rehearsalEnd } from '../src/schedule/rehearsal.js';

const MINUTE = 60_000;

test('a rehearsal goes on for two hours, or until a minute before somebody else needs the source', () => {
  const endOf = (...doors: number[]) =>
    rehearsalEnd(
      0,
      doors.map((minute) => minute * MINUTE),
    );
  expect(endOf()).toEqual({ ok: true, value: 120 * MINUTE });
  expect(endOf(-10, 500)).toEqual({ ok: true, value: 120 * MINUTE });
  expect(endOf(90, 30, -10)).toEqual({ ok: true, value: 29 * MINUTE });
  expect(endOf(5)).toEqual({ ok: false, error: { code: 'doors-too-near', doorsAtMs: 5 * MINUTE } });
});
