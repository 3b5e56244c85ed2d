import { relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import type { PlaywrightSuite } from './test-times.js';

/** A test that failed, or a file or a whole room that could not be run. */
export interface Failure {
  readonly room: string;
  /** From the root of the tree; `null` where it is the room itself. */
  readonly file: string | null;
  readonly line?: number;
  /** Playwright's, where Playwright runs the file. */
  readonly project?: string;
  /** The test's name; `null` where the whole file could not be run. */
  readonly test: string | null;
  /** The first of what it said. */
  readonly words: string;
}

const MOST_LINES = 8;

/** What stands in an error before its excerpt of code, and where in our own code it came up. */
export const firstOf = (message: string): string =>
  stripVTControlCharacters(message)
    .split('\n')
    .filter((line) => line.trim() !== '' && !line.includes('node_modules'))
    .slice(0, MOST_LINES)
    .join('\n');

/** A file in a Jest report (`--json --testLocationInResults`). */
export interface JestOutcome {
  readonly name: string;
  /** Why the file could not be run; what failed in it, otherwise. */
  readonly message: string;
  readonly status: string;
  readonly assertionResults: readonly {
    readonly fullName: string;
    readonly status: string;
    readonly failureMessages: readonly string[] | null;
    readonly location?: { readonly line: number } | null;
  }[];
}

/** Of a Jest report; a file that could not be run counts as one. */
export function jestFailures(room: string, files: readonly JestOutcome[]): Failure[] {
  return files
    .filter(({ status }) => status === 'failed')
    .flatMap(({ name, message, assertionResults }): Failure[] => {
      const file = relative(process.cwd(), name);
      const failed = assertionResults.filter(({ status }) => status === 'failed');
      if (failed.length === 0) return [{ room, file, test: null, words: firstOf(message) }];
      return failed.map(({ fullName, failureMessages, location }) => ({
        room,
        file,
        ...(location ? { line: location.line } : {}),
        test: fullName,
        words: firstOf(failureMessages?.[0] ?? message),
      }));
    });
}

/** Of a Playwright report. @param folder - that its files stand in */
export function playwrightFailures(
  room: string,
  folder: string,
  suites: readonly PlaywrightSuite[],
): Failure[] {
  return suites.flatMap(({ file, specs, suites: inner = [] }) => [
    ...specs.flatMap(({ title, line, tests }) =>
      tests
        .filter(({ status }) => status === 'unexpected')
        .map(({ projectName, results }) => ({
          room,
          file: `${folder}/${file}`,
          line,
          project: projectName,
          test: title,
          words: firstOf(results.at(-1)?.error?.message ?? ''),
        })),
    ),
    ...playwrightFailures(room, folder, inner),
  ]);
}

/** What stands at the end of a run; a long one has scrolled the failures themselves out of sight. */
export const failureLines = (mark: string, failures: readonly Failure[]): string =>
  failures
    .map((failure) => `${mark} ${whichOf(failure)}\n${failure.words.replace(/^/gm, '    ')}`)
    .join('\n');

function whichOf({ room, file, line, project, test }: Failure): string {
  const where = file && (line ? `${file}:${line}` : file);
  const inProject = where && project ? `${where} (${project})` : where;
  return `${room}: ${[inProject, test].filter(Boolean).join(' › ') || 'the room as a whole'}`;
}
