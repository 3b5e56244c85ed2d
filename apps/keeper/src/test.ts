import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { chmod, mkdir, mkdtemp, readFile, rm, symlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import { Installation, STANDIN_PORTS } from './installation.js';
import { startMariaDb } from './mariadb.js';
import { freePort, isFree } from './ports.js';
import { readSettings, type Settings } from './settings.js';
import { staticChecks } from './static-checks.js';
import {
  type Failure,
  failureLines,
  jestFailures,
  type JestOutcome,
  playwrightFailures,
} from './test-failures.js';
import { shareOfTests } from './test-share.js';
import {
  type FileTime,
  jestTimes,
  type PlaywrightSuite,
  playwrightTimes,
  type RoomTime,
  timesTable,
} from './test-times.js';

const ROOMS = ['static', 'core', 'server', 'media', 'journeys', 'faults'] as const;
type Room = (typeof ROOMS)[number];

interface Count {
  passed: number;
  failed: number;
  /** When the first test began, and how long each file took; absent where nothing is measured. */
  startedAtMs?: number;
  files?: readonly FileTime[];
  failures?: readonly Failure[];
}

/** Projects of `playwright.config.ts`, in their order: what moves the clock for good comes last. */
const JOURNEYS = [['desk by day', 'phone by night'], ['alone by day'], ['alone by night'], ['months on']];

const JEST_ENV = { NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning' };

/** `./heliphon test [--times] [room…]`: everything, or the rooms named. The last line counts. */
export async function test(parameters: readonly string[]): Promise<void> {
  const options = parameters.filter((parameter) => parameter !== '--times');
  const unknown = options.find((option) => !(ROOMS as readonly string[]).includes(option));
  if (unknown) throw new Error(`There is no room ${unknown}; there are ${ROOMS.join(', ')}.`);
  const rooms = options.length > 0 ? (options as readonly Room[]) : ROOMS;
  process.once('SIGINT', breakOff).once('SIGTERM', breakOff);
  const beganAtMs = Date.now();
  const counts: Count[] = [];
  const times: RoomTime[] = [];
  for (const room of rooms) {
    const startsAtMs = Date.now();
    const count = await RUNNERS[room]();
    const seconds = (Date.now() - startsAtMs) / 1000;
    const startSeconds = count.startedAtMs === undefined ? 0 : (count.startedAtMs - startsAtMs) / 1000;
    counts.push(count);
    times.push({ room, seconds, startSeconds });
    console.log(`\n${room}: ${count.passed} passed, ${count.failed} failed in ${seconds.toFixed(0)} s\n`);
  }
  if (parameters.includes('--times')) {
    const files = counts.flatMap((count) => count.files ?? []);
    console.log(`${timesTable(times, files, (Date.now() - beganAtMs) / 1000)}\n`);
  }
  const sum = (of: 'passed' | 'failed'): number => counts.reduce((total, count) => total + count[of], 0);
  const total = { passed: sum('passed'), failed: sum('failed') };
  const failures = counts.flatMap((count) => count.failures ?? []);
  if (failures.length > 0) console.log(`${failureLines(failures)}\n`);
  console.log(`Tests are ${await shareOfTests()} % of the code.`);
  console.log(`${total.passed} passed, ${total.failed} failed`);
  process.exit(total.failed > 0 ? 1 : 0);
}

const RUNNERS: Readonly<Record<Room, () => Promise<Count>>> = {
  static: () => staticChecks(),
  core: () => jest('core'),
  server: () => withDatabase((env) => jest('server', env)),
  media: () => jest('media'),
  journeys: () => withInstallation((env) => journeys(env)),
  faults: () => withInstallation((env) => jest('faults', env)),
};

async function jest(room: string, env: NodeJS.ProcessEnv = {}): Promise<Count> {
  return withFolder(async (folder) => {
    const report = join(folder, 'report.json');
    const flags = ['--selectProjects', room, '--json', `--outputFile=${report}`];
    // Faults happen to the one installation that they share: one after another, in the same order everywhere.
    const workers =
      room === 'faults'
        ? ['--runInBand', `--testSequencer=${resolve('tests/faults/in-order-of-names.js')}`]
        : ['--maxWorkers=2'];
    const code = await run(process.execPath, ['node_modules/jest/bin/jest.js', ...flags, ...workers], {
      ...JEST_ENV,
      ...env,
    });
    const result = JSON.parse(await readFile(report, 'utf8').catch(() => '{}')) as Partial<JestReport>;
    const failed = (result.numFailedTests ?? 0) + (result.numRuntimeErrorTestSuites ?? 0);
    const files = result.testResults ?? [];
    return {
      passed: result.numPassedTests ?? 0,
      failed: code !== 0 ? Math.max(1, failed) : failed,
      ...(files.length === 0 ? {} : { startedAtMs: Math.min(...files.map(({ startTime }) => startTime)) }),
      files: jestTimes(room, files),
      failures: jestFailures(room, files),
    };
  });
}

interface JestReport {
  readonly numPassedTests: number;
  readonly numFailedTests: number;
  readonly numRuntimeErrorTestSuites: number;
  readonly testResults: readonly (JestOutcome & Parameters<typeof jestTimes>[1][number])[];
}

/** One group after another; a failure in one keeps no other from being run. */
async function journeys(env: NodeJS.ProcessEnv): Promise<Count> {
  const counts: Required<Count>[] = [];
  for (const projects of JOURNEYS) counts.push(await playwright(projects, env));
  return {
    passed: counts.reduce((sum, { passed }) => sum + passed, 0),
    failed: counts.reduce((sum, { failed }) => sum + failed, 0),
    startedAtMs: Math.min(...counts.map(({ startedAtMs }) => startedAtMs)),
    files: counts.flatMap(({ files }) => files),
    failures: counts.flatMap(({ failures }) => failures),
  };
}

async function playwright(projects: readonly string[], env: NodeJS.ProcessEnv): Promise<Required<Count>> {
  return withFolder(async (folder) => {
    const report = join(folder, 'report.json');
    const beganAtMs = Date.now();
    const code = await run('node_modules/.bin/playwright', ['test', '--project', ...projects], {
      ...env,
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    });
    const { stats, suites } = JSON.parse(
      await readFile(report, 'utf8').catch(() => '{"stats":{},"suites":[]}'),
    ) as PlaywrightReport;
    const failed = stats.unexpected ?? 0;
    return {
      passed: (stats.expected ?? 0) + (stats.flaky ?? 0),
      failed: code !== 0 ? Math.max(1, failed) : failed,
      startedAtMs: stats.startTime === undefined ? beganAtMs : Date.parse(stats.startTime),
      files: playwrightTimes('journeys', suites),
      failures: playwrightFailures('journeys', suites),
    };
  });
}

interface PlaywrightReport {
  readonly stats: { startTime?: string; expected?: number; unexpected?: number; flaky?: number };
  readonly suites: readonly PlaywrightSuite[];
}

/** A MariaDB for the run; every Jest worker makes databases of its own in it. */
async function withDatabase(work: (env: NodeJS.ProcessEnv) => Promise<Count>): Promise<Count> {
  return withFolder(async (folder) => {
    const database = await startMariaDb({ folder, forTests: true });
    return stopAfter(
      () => database.stop(),
      () => work({ HELIPHON_TEST_DATABASE_URL: database.url }),
    );
  });
}

/** A whole demo house on free ports, with a clock that can be set. */
async function withInstallation(work: (env: NodeJS.ProcessEnv) => Promise<Count>): Promise<Count> {
  return withFolder(async (folder) => {
    process.env.HELIPHON_TEST_CLOCK = '1';
    const settings = await settingsIn(folder);
    await shareFilm(settings.dataFolder);
    const installation = new Installation(settings, { demo: true, forTests: true }, (sentence) =>
      console.log(sentence),
    );
    return stopAfter(
      () => installation.stop(),
      async () => {
        await installation.start();
        return work({
          HELIPHON_TEST_ACCESS: join(folder, 'access.json'),
          HELIPHON_TEST_KEEPER: String(process.pid),
        });
      },
    );
  });
}

/** Ends what stands just now, when the run is broken off. */
let stopStanding: () => Promise<void> = () => Promise.resolve();
const breakOff = (): void => void stopStanding().finally(() => process.exit(1));

/** Ends what was started, also when the run is broken off: nothing is left behind. */
async function stopAfter<T>(stop: () => Promise<void>, work: () => Promise<T>): Promise<T> {
  stopStanding = stop;
  try {
    return await work();
  } finally {
    stopStanding = () => Promise.resolve();
    await stop();
  }
}

async function settingsIn(folder: string): Promise<Settings> {
  const srtPort = await freePort();
  return {
    bind: '127.0.0.1',
    port: await freePort(),
    mediaPort: await freePort(),
    rtmpPort: await freePort(),
    srtPort,
    second: { mediaPort: await freePort(), rtmpPort: await freePort(), srtPort: srtPort + SRT_LIMITS.slots },
    standinsPort: await freePortsInARow(STANDIN_PORTS),
    dataFolder: folder,
  };
}

/** @returns the first of them */
async function freePortsInARow(count: number): Promise<number> {
  for (;;) {
    const first = await freePort();
    const others = Array.from({ length: count - 1 }, (_, index) => isFree(first + index + 1, '127.0.0.1'));
    if ((await Promise.all(others)).every(Boolean)) return first;
  }
}

/** The film is the same every time: taken from the data folder's cache, and left there for the next run. */
async function shareFilm(dataFolder: string): Promise<void> {
  const cache = resolve(readSettings(process.env).dataFolder, 'cache');
  await mkdir(cache, { recursive: true });
  await symlink(cache, join(dataFolder, 'cache'));
}

async function withFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'heliphon-test-'));
  const removeAtOnce = (): void => rmSync(folder, { recursive: true, force: true });
  process.once('exit', removeAtOnce);
  await chmod(folder, 0o711); // the database runs as another user
  try {
    return await work(folder);
  } finally {
    process.off('exit', removeAtOnce);
    await rm(folder, { recursive: true, force: true });
  }
}

/** Runs a program to its end, or to ours; resolves with its exit code. */
function run(command: string, parameters: readonly string[], env: NodeJS.ProcessEnv): Promise<number> {
  return new Promise((done, reject) => {
    const child = spawn(command, parameters, { stdio: 'inherit', env: { ...process.env, ...env } });
    const end = (): void => void child.kill();
    process.once('exit', end);
    child.once('error', reject);
    child.once('close', (code) => {
      process.off('exit', end);
      done(code ?? 1);
    });
  });
}
