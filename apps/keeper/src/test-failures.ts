import { stripVTControlCharacters } from 'node:util';
import type { PlaywrightSuite } from './test-times.js';

/** A test that failed, and the first of what it said. */
export interface Failure {
  readonly room: string;
  readonly test: string;
  readonly words: string;
}

const MOST_LINES = 6;

/** What stands in an error before its excerpt of code and its stack. */
const firstOf = (message: string): string =>
  stripVTControlCharacters(message)
    .split('\n')
    .filter((line) => line.trim() !== '')
    .slice(0, MOST_LINES)
    .join('\n');

/** A file in a Jest report (`--json`). */
export interface JestOutcome {
  readonly name: string;
  /** Why the file could not be run; what failed in it, otherwise. */
  readonly message: string;
  readonly status: string;
  readonly assertionResults: readonly {
    readonly fullName: string;
    readonly status: string;
    readonly failureMessages: readonly string[] | null;
  }[];
}

/** Of a Jest report; a file that could not be run counts as one. */
export function jestFailures(room: string, files: readonly JestOutcome[]): Failure[] {
  return files
    .filter(({ status }) => status === 'failed')
    .flatMap(({ name, message, assertionResults }) => {
      const failed = assertionResults.filter(({ status }) => status === 'failed');
      if (failed.length === 0) return [{ room, test: name, words: firstOf(message) }];
      return failed.map(({ fullName, failureMessages }) => ({
        room,
        test: fullName,
        words: firstOf(failureMessages?.[0] ?? message),
      }));
    });
}

/** Of a Playwright report. */
export function playwrightFailures(room: string, suites: readonly PlaywrightSuite[]): Failure[] {
  return suites.flatMap(({ file, specs, suites: inner = [] }) => [
    ...specs.flatMap(({ title, tests }) =>
      tests
        .filter(({ status }) => status === 'unexpected')
        .map(({ projectName, results }) => ({
          room,
          test: `${file} (${projectName}) › ${title}`,
          words: firstOf(results.at(-1)?.error?.message ?? ''),
        })),
    ),
    ...playwrightFailures(room, inner),
  ]);
}

/** What stands at the end of a run; a long one has scrolled the failures themselves out of sight. */
export const failureLines = (failures: readonly Failure[]): string =>
  failures.map(({ room, test, words }) => `✕ ${room}: ${test}\n${words.replace(/^/gm, '    ')}`).join('\n');
