import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { lockFolder } from './folder-lock.js';
import { DATABASE_URL_FILE, startMariaDb } from './mariadb.js';

/** Works with the installation's database: the one that is set, the one that runs, or one started for the moment. */
export async function withDatabaseOf<T>(dataFolder: string, work: (url: string) => Promise<T>): Promise<T> {
  const set = process.env.HELIPHON_DATABASE_URL;
  if (set) return work(set);
  const running = await readFile(join(dataFolder, DATABASE_URL_FILE), 'utf8').catch(() => null);
  if (running && (await doesAnswer(running))) return work(running);
  const lock = await lockFolder(dataFolder);
  try {
    const database = await startMariaDb({ folder: dataFolder, forTests: false });
    try {
      return await work(database.url);
    } finally {
      await database.stop();
    }
  } finally {
    await lock.release();
  }
}

/** True when a database answers at this address. */
export async function doesAnswer(url: string): Promise<boolean> {
  const connection = await createConnection(url).catch(() => null);
  await connection?.end();
  return connection !== null;
}
