import { expect, test } from '@jest/globals';
import { failureLines, jestFailures, playwrightFailures } from '../src/test-failures.js';

test('what failed is told in a few lines at the end of a run: of Jest by test, or by file where none could be run', () => {
  const passed = { fullName: 'keeps time', status: 'passed', failureMessages: [] };
  const failed = {
    fullName: 'keeps a key',
    status: 'failed',
    failureMessages: [
      '\u001b[31mError: lost\u001b[39m\n\n  it was 1\n    at a\n    at b\n    at c\n    at d',
    ],
  };
  const file = { name: 'a.spec.ts', status: 'failed', message: 'No such module', assertionResults: [] };
  const failures = jestFailures('core', [
    { ...file, assertionResults: [passed, failed] },
    file,
    { ...file, status: 'passed', assertionResults: [passed] },
  ]);
  expect(failureLines(failures).split('\n')).toEqual([
    '✕ core: keeps a key',
    ...['Error: lost', '  it was 1', '    at a', '    at b', '    at c', '    at d'].map(
      (line) => `    ${line}`,
    ),
    '✕ core: a.spec.ts',
    '    No such module',
  ]);
});

test('of Playwright by its last try, whatever it is nested in', () => {
  const tried = (title: string, status: string, ...messages: string[]) => ({
    title,
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
  expect(playwrightFailures('journeys', [suite])).toEqual([
    { room: 'journeys', test: 'rooms.spec.ts (desk) › opens', words: 'second' },
  ]);
});
