import { spawn } from 'node:child_process';
import { mkdir, open, readFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { staticChecks } from './static-checks.js';
import {
  type Failure,
  firstOf,
  jestFailures,
  type JestOutcome,
  playwrightFailures,
} from './test-failures.js';
import { withDatabase, withFolder, withInstallation } from './test-ground.js';
import { type FileTime, jestTimes, type PlaywrightSuite, playwrightTimes } from './test-times.js';

export const ROOMS = ['static', 'core', 'server', 'media', 'journeys', 'faults'] as const;
export type Room = (typeof ROOMS)[number];

/** What came of a room. */
export interface Outcome {
  readonly passed: number;
  readonly failures: readonly Failure[];
  /** When the first test began, and how long each file took; absent where nothing is measured. */
  readonly startedAtMs?: number;
  readonly files?: readonly FileTime[];
}

/** Which files to run, each with its project where Playwright runs it; `null`: the whole room. */
type Only = readonly { readonly file: string; readonly project?: string }[] | null;

const JOURNEYS_FOLDER = 'tests/journeys';
/** Projects of `playwright.config.ts`, in their order: what moves the clock for good comes last. */
const JOURNEYS = [['desk by day', 'phone by night'], ['alone by day'], ['alone by night'], ['months on']];

const JEST_ENV = { NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning' };

/** Runs a room on ground of its own. @param again - what failed in it before: only those files */
export async function runRoom(room: Room, again: readonly Failure[] = []): Promise<Outcome> {
  const files = again.flatMap(({ file, project }) =>
    file === null ? [] : [{ file, ...(project ? { project } : {}) }],
  );
  const isWhole = again.length === 0 || files.length < again.length;
  try {
    return await RUNNERS[room](isWhole ? null : files);
  } catch (error) {
    return { passed: 0, failures: [roomFailure(room, String(error))] };
  }
}

const RUNNERS: Readonly<Record<Room, (only: Only) => Promise<Outcome>>> = {
  static: () => staticChecks(),
  core: (only) => jest('core', only),
  server: (only) => withDatabase((env) => jest('server', only, env)),
  media: (only) => jest('media', only),
  journeys: (only) => withInstallation((env) => journeys(only, env)),
  faults: (only) => withInstallation((env) => jest('faults', only, env)),
};

const roomFailure = (room: string, words: string): Failure => ({
  room,
  file: null,
  test: null,
  words: firstOf(words),
});

async function jest(room: string, only: Only, env: NodeJS.ProcessEnv = {}): Promise<Outcome> {
  return withFolder(async (folder) => {
    const report = join(folder, 'report.json');
    const flags = ['--selectProjects', room, '--testLocationInResults', '--json', `--outputFile=${report}`];
    // Faults happen to the one installation that they share: one after another, in the same order everywhere.
    const workers =
      room === 'faults'
        ? ['--runInBand', `--testSequencer=${resolve('tests/faults/in-order-of-names.js')}`]
        : [`--maxWorkers=${only ? 1 : 2}`];
    const paths = only ? ['--runTestsByPath', ...new Set(only.map(({ file }) => file))] : [];
    const code = await runJest(room, [...flags, ...workers, ...paths], only ? 'a' : 'w', env);
    const result = JSON.parse(await readFile(report, 'utf8').catch(() => '{}')) as Partial<JestReport>;
    const files = result.testResults ?? [];
    return {
      passed: result.numPassedTests ?? 0,
      failures: orTheRoom(room, 'Jest', code, jestFailures(room, files)),
      ...(files.length === 0 ? {} : { startedAtMs: Math.min(...files.map(({ startTime }) => startTime)) }),
      files: jestTimes(room, files),
    };
  });
}

/**
 * Jest tells on the error output. What the servers under test log goes to `test-results/ROOM.log`.
 * @param flag - how that is opened
 */
async function runJest(
  room: string,
  parameters: readonly string[],
  flag: 'a' | 'w',
  env: NodeJS.ProcessEnv,
): Promise<number> {
  await mkdir('test-results', { recursive: true });
  const log = await open(join('test-results', `${room}.log`), flag);
  try {
    const program = 'node_modules/jest/bin/jest.js';
    return await run(process.execPath, [program, ...parameters], { ...JEST_ENV, ...env }, log.fd);
  } finally {
    await log.close();
  }
}

/** A program that says by its exit code that something is wrong, and names nothing, is believed all the same. */
const orTheRoom = (
  room: string,
  program: string,
  code: number,
  failures: readonly Failure[],
): readonly Failure[] =>
  code === 0 || failures.length > 0
    ? failures
    : [roomFailure(room, `${program} ended with ${code}, and named no test.`)];

interface JestReport {
  readonly numPassedTests: number;
  readonly testResults: readonly (JestOutcome & Parameters<typeof jestTimes>[1][number])[];
}

/** One group after another; a failure in one keeps no other from being run. */
async function journeys(only: Only, env: NodeJS.ProcessEnv): Promise<Outcome> {
  const outcomes: Required<Outcome>[] = [];
  for (const projects of JOURNEYS) {
    if (!only) outcomes.push(await playwright(projects, [], env));
    for (const project of only ? projects : []) {
      const files = only!.filter((one) => one.project === project).map(({ file }) => file);
      if (files.length > 0) outcomes.push(await playwright([project], [...new Set(files)], env));
    }
  }
  return {
    passed: outcomes.reduce((sum, { passed }) => sum + passed, 0),
    failures: outcomes.flatMap(({ failures }) => failures),
    startedAtMs: Math.min(...outcomes.map(({ startedAtMs }) => startedAtMs)),
    files: outcomes.flatMap(({ files }) => files),
  };
}

async function playwright(
  projects: readonly string[],
  files: readonly string[],
  env: NodeJS.ProcessEnv,
): Promise<Required<Outcome>> {
  return withFolder(async (folder) => {
    const report = join(folder, 'report.json');
    const beganAtMs = Date.now();
    const code = await run('node_modules/.bin/playwright', ['test', ...files, '--project', ...projects], {
      ...env,
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    });
    const { stats, suites, errors } = JSON.parse(
      await readFile(report, 'utf8').catch(() => '{"stats":{},"suites":[],"errors":[]}'),
    ) as PlaywrightReport;
    const outside = errors.map(({ message }) =>
      roomFailure('journeys', message ?? 'An error without words.'),
    );
    return {
      passed: (stats.expected ?? 0) + (stats.flaky ?? 0),
      failures: orTheRoom('journeys', 'Playwright', code, [
        ...playwrightFailures('journeys', JOURNEYS_FOLDER, suites),
        ...outside,
      ]),
      startedAtMs: stats.startTime === undefined ? beganAtMs : Date.parse(stats.startTime),
      files: playwrightTimes('journeys', suites),
    };
  });
}

interface PlaywrightReport {
  readonly stats: { startTime?: string; expected?: number; flaky?: number };
  readonly suites: readonly PlaywrightSuite[];
  /** What went wrong in no test. */
  readonly errors: readonly { message?: string }[];
}

/**
 * Runs a program to its end, or to ours; resolves with its exit code.
 * @param output - where what it writes goes: an open file
 */
function run(
  command: string,
  parameters: readonly string[],
  env: NodeJS.ProcessEnv,
  output: number | 'inherit' = 'inherit',
): Promise<number> {
  return new Promise((done, reject) => {
    const child = spawn(command, parameters, {
      stdio: ['inherit', output, 'inherit'],
      env: { ...process.env, ...env },
    });
    const end = (): void => void child.kill();
    process.once('exit', end);
    child.once('error', reject);
    child.once('close', (code) => {
      process.off('exit', end);
      done(code ?? 1);
    });
  });
}
