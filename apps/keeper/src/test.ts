import { spawn } from 'node:child_process';
import { chmod, mkdir, mkdtemp, readFile, rm, symlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { Installation } from './installation.js';
import { startMariaDb } from './mariadb.js';
import { freePort, isFree } from './ports.js';
import { readSettings, type Settings } from './settings.js';
import { shareOfTests } from './test-share.js';

const ROOMS = ['static', 'core', 'server', 'media', 'journeys', 'faults'] as const;
type Room = (typeof ROOMS)[number];

interface Count {
  passed: number;
  failed: number;
}

const JEST_ENV = { NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning' };

/** `./heliphon test [room…]`: everything, or the rooms named. The last line counts. */
export async function test(options: readonly string[]): Promise<void> {
  const unknown = options.find((option) => !(ROOMS as readonly string[]).includes(option));
  if (unknown) throw new Error(`There is no room ${unknown}; there are ${ROOMS.join(', ')}.`);
  const rooms = options.length > 0 ? (options as readonly Room[]) : ROOMS;
  const total: Count = { passed: 0, failed: 0 };
  for (const room of rooms) {
    const startedAtMs = Date.now();
    const count = await RUNNERS[room]();
    total.passed += count.passed;
    total.failed += count.failed;
    const seconds = Math.round((Date.now() - startedAtMs) / 1000);
    console.log(`\n${room}: ${count.passed} passed, ${count.failed} failed in ${seconds} s\n`);
  }
  console.log(`Tests are ${await shareOfTests()} % of the code.`);
  console.log(`${total.passed} passed, ${total.failed} failed`);
  process.exit(total.failed > 0 ? 1 : 0);
}

const RUNNERS: Readonly<Record<Room, () => Promise<Count>>> = {
  static: async () => {
    const checks = [
      ['types', 'node_modules/typescript7/bin/tsc', '-p', 'tsconfig.json'],
      ['lint', 'node_modules/.bin/eslint', '--cache', '--cache-location', 'node_modules/.cache/eslint/', '.'],
      ['format', 'node_modules/.bin/prettier', '--check', '--log-level', 'warn', '.'],
      ['layers', 'node_modules/.bin/depcruise', '--config', '.dependency-cruiser.cjs', 'packages', 'apps'],
    ] as const;
    const count = { passed: 0, failed: 0 };
    for (const [name, script, ...parameters] of checks) {
      const ok = (await run(process.execPath, [script, ...parameters], {})) === 0;
      console.log(`${ok ? '✓' : '✕'} ${name}`);
      count[ok ? 'passed' : 'failed'] += 1;
    }
    return count;
  },
  core: () => jest('core'),
  server: () => withDatabase((env) => jest('server', env)),
  media: () => jest('media'),
  journeys: () => withInstallation((env) => playwright(env)),
  faults: () => withInstallation((env) => jest('faults', env)),
};

async function jest(room: string, env: NodeJS.ProcessEnv = {}): Promise<Count> {
  return withFolder(async (folder) => {
    const report = join(folder, 'report.json');
    const flags = ['--selectProjects', room, '--json', `--outputFile=${report}`];
    // Media and faults measure what happens in real time: one after another, on two shared cores.
    const workers = room === 'media' || room === 'faults' ? ['--runInBand'] : ['--maxWorkers=2'];
    const code = await run(process.execPath, ['node_modules/jest/bin/jest.js', ...flags, ...workers], {
      ...JEST_ENV,
      ...env,
    });
    const result = JSON.parse(await readFile(report, 'utf8').catch(() => '{}')) as Partial<JestReport>;
    const failed = (result.numFailedTests ?? 0) + (result.numRuntimeErrorTestSuites ?? 0);
    return { passed: result.numPassedTests ?? 0, failed: code !== 0 ? Math.max(1, failed) : failed };
  });
}

interface JestReport {
  readonly numPassedTests: number;
  readonly numFailedTests: number;
  readonly numRuntimeErrorTestSuites: number;
}

async function playwright(env: NodeJS.ProcessEnv): Promise<Count> {
  return withFolder(async (folder) => {
    const report = join(folder, 'report.json');
    const code = await run('node_modules/.bin/playwright', ['test'], {
      ...env,
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    });
    const { stats } = JSON.parse(await readFile(report, 'utf8').catch(() => '{"stats":{}}')) as {
      stats: { expected?: number; unexpected?: number; flaky?: number };
    };
    const failed = stats.unexpected ?? 0;
    return {
      passed: (stats.expected ?? 0) + (stats.flaky ?? 0),
      failed: code !== 0 ? Math.max(1, failed) : failed,
    };
  });
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

/** Ends what was started, also when the run is broken off: nothing is left behind. */
async function stopAfter<T>(stop: () => Promise<void>, work: () => Promise<T>): Promise<T> {
  const brokenOff = (): void => void stop().finally(() => process.exit(1));
  process.once('SIGINT', brokenOff);
  process.once('SIGTERM', brokenOff);
  try {
    return await work();
  } finally {
    process.off('SIGINT', brokenOff);
    process.off('SIGTERM', brokenOff);
    await stop();
  }
}

async function settingsIn(folder: string): Promise<Settings> {
  return {
    bind: '127.0.0.1',
    port: await freePort(),
    mediaPort: await freePort(),
    rtmpPort: await freePort(),
    srtPort: await freePort(),
    second: { mediaPort: await freePort(), rtmpPort: await freePort(), srtPort: await freePort() },
    standinsPort: await fourFreePorts(),
    dataFolder: folder,
  };
}

/** The stand-ins take four ports in a row. */
async function fourFreePorts(): Promise<number> {
  for (;;) {
    const first = await freePort();
    const others = await Promise.all([1, 2, 3].map((more) => isFree(first + more, '127.0.0.1')));
    if (first < 65_000 && others.every(Boolean)) return first;
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
  await chmod(folder, 0o711); // the database runs as another user
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

function run(command: string, parameters: readonly string[], env: NodeJS.ProcessEnv): Promise<number> {
  return new Promise((done, reject) => {
    const child = spawn(command, parameters, { stdio: 'inherit', env: { ...process.env, ...env } });
    child.once('error', reject);
    child.once('close', (code) => done(code ?? 1));
  });
}
