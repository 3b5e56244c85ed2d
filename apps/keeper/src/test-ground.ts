import { rmSync } from 'node:fs';
import { chmod, mkdir, mkdtemp, rm, symlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import { Installation, STANDIN_PORTS } from './installation.js';
import { startMariaDb } from './mariadb.js';
import { freePort, isFree } from './ports.js';
import { readSettings, type Settings } from './settings.js';

/** A MariaDB for the run; every Jest worker makes databases of its own in it. */
export async function withDatabase<T>(work: (env: NodeJS.ProcessEnv) => Promise<T>): Promise<T> {
  return withFolder(async (folder) => {
    const database = await startMariaDb({ folder, forTests: true });
    return stopAfter(
      () => database.stop(),
      () => work({ HELIPHON_TEST_DATABASE_URL: database.url }),
    );
  });
}

/** A whole demo house on free ports, with a clock that can be set. */
export async function withInstallation<T>(work: (env: NodeJS.ProcessEnv) => Promise<T>): Promise<T> {
  return withFolder(async (folder) => {
    process.env.HELIPHON_TEST_CLOCK = '1';
    process.env.HELIPHON_FILE_NICENESS = '0';
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
export const breakOff = (): void => void stopStanding().finally(() => process.exit(1));

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

/** A folder for as long as the work takes. */
export async function withFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
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
