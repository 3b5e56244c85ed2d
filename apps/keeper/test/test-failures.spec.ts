import { resolve } from 'node:path';
import { expect, test } from '@jest/globals';
import { failureLines, jestFailures, playwrightFailures } from '../src/test-failures.js';

test('what failed is told at the end of a run so that it can be found: of Jest by file, line and test, or by file where none could be run', () => {
  const passed = { fullName: 'keeps time', status: 'passed', failureMessages: [] };
  const failed = {
    fullName: 'keeps a key',
    status: 'failed',
    failureMessages: ['\u001b[31mError: lost\u001b[39m\n\n  it was 1\n    at a\n    at b'],
    location: { line: 7 },
  };
  const file = {
    name: resolve('a.spec.ts'),
    status: 'failed',
    message: 'No such module',
    assertionResults: [],
  };
  const failures = jestFailures('core', [
    { ...file, assertionResults: [passed, failed] },
    file,
    { ...file, status: 'passed', assertionResults: [passed] },
  ]);
  expect(failureLines('✕', failures).split('\n')).toEqual([
    '✕ core: a.spec.ts:7 › keeps a key',
    ...['Error: lost', '  it was 1', '    at a', '    at b'].map((line) => `    ${line}`),
    '✕ core: a.spec.ts',
    '    No such module',
  ]);
});

test('a room that could not be run at all is told by its name', () => {
  const failure = { room: 'faults', file: null, test: null, words: 'No port is free.' };
  expect(failureLines('✕', [failure])).toBe('✕ faults: the room as a whole\n    No port is free.');
});

test('of Playwright by its last try, whatever it is nested in', () => {
  const tried = (title: string, status: string, ...messages: string[]) => ({
    title,
    line: 12,
    tests: [
      {
        projectName: 'desk',
        status,
        results: messages.map((message) => ({ duration: 1, error: { message } })),
      },
    ],
  });
  const inner = { file: 'rooms.spec.ts', specs: [tried('opens', 'unexpected', 'first', 'second')] };
  const suite = { file: 'rooms.spec.ts', specs: [tried('closes', 'flaky', 'once')], suites: [inner] };
  expect(failureLines('~', playwrightFailures('journeys', 'tests/journeys', [suite]))).toBe(
    '~ journeys: tests/journeys/rooms.spec.ts:12 (desk) › opens\n    second',
  );
});
