import { describe, expect, test } from '@jest/globals';
import type { Failure } from '../src/test-failures.js';
import { judge, secondChances } from '../src/test-verdict.js';

const failure = (room: string, file: string | null, name: string | null = null): Failure => ({
  room,
  file,
  test: name,
  words: 'It failed.',
});
const [away, back] = [
  failure('media', 'a.spec.ts', 'goes away'),
  failure('media', 'a.spec.ts', 'comes back'),
];

describe('what failed', () => {
  test('is run once more, room by room, but for what no machine can make fail', () => {
    const kept = failure('faults', 'b.spec.ts', 'keeps');
    const chances = secondChances([failure('core', 'c.spec.ts', 'adds'), away, kept, back]);
    expect([...chances]).toEqual([
      ['media', [away, back]],
      ['faults', [kept]],
    ]);
  });

  test('and fails again has failed; and passes then is unsteady, which is said and does not fail the run', () => {
    expect(judge([away, back], [back])).toEqual({ failed: [back], unsteady: [away], passes: false });
    expect(judge([away], [])).toEqual({ failed: [], unsteady: [away], passes: true });
  });

  test('without a second chance has failed', () => {
    const types = failure('static', null, 'types');
    expect(judge([types], [])).toEqual({ failed: [types], unsteady: [], passes: false });
  });

  test('is another test of the same file then: both are unsteady', () => {
    expect(judge([away], [back])).toEqual({ failed: [], unsteady: [away, back], passes: true });
  });

  test('as one test, and whose file or room cannot be run then, has failed', () => {
    for (const later of [failure('media', 'a.spec.ts'), failure('media', null)])
      expect(judge([away], [later])).toEqual({ failed: [later], unsteady: [], passes: false });
    expect(judge([failure('media', null)], [away]).failed).toEqual([away]);
  });

  test('in one of Playwright’s projects says nothing of another', () => {
    const [day, night] = ['day', 'night'].map((project) => ({
      ...failure('journeys', 'd', 'opens'),
      project,
    }));
    expect(judge([day!, night!], [night!])).toEqual({ failed: [night], unsteady: [day], passes: false });
  });

  test('once, and more than five times in one run, fails it: that is no bad luck', () => {
    const many = Array.from({ length: 6 }, (_, nth) => failure('media', `${nth}.spec.ts`, 'goes'));
    expect(judge(many.slice(1), []).passes).toBe(true);
    expect(judge(many, []).passes).toBe(false);
  });
});
