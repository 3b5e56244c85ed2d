import { execFile, spawn } from 'node:child_process';
import { createReadStream, createWriteStream } from 'node:fs';
import { cp, mkdir, mkdtemp, rename, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { createGunzip, createGzip } from 'node:zlib';
import { checkManifest, writeManifest } from './backup-manifest.js';
import { withDatabaseOf } from './database.js';
import { childEnvironment, readSettings } from './settings.js';
import { checkSchema } from './schema-check.js';

const run = promisify(execFile);

const DUMP = 'database.sql.gz';
/** What people uploaded. */
const FOLDERS = ['posters', 'files'];
/** Says to the server that it has been put back to an earlier day. */
const RESTORED_FILE = 'restored';

/**
 * `./heliphon backup [FOLDER]`: the database, posters and files, while everything runs. Recordings are files that never
 * change: copy `media/` as you copy any folder. The key file stays out on purpose: kept apart, a stolen backup opens
 * nothing.
 */
export async function backup([folder]: readonly string[]): Promise<void> {
  const { dataFolder } = readSettings(process.env);
  const target = resolve(folder ?? join(dataFolder, 'backups', stamp(new Date())));
  await withDatabaseOf(dataFolder, (url) => writeBackup(url, dataFolder, target));
  console.log(
    `The backup is in ${target}. Keep a copy of ${join(dataFolder, 'secret.key')} too, somewhere else.`,
  );
  console.log(
    'It knows the media nodes and what they have reported, but contains no recordings: copy the media folder as well.',
  );
}

/** `./heliphon restore FOLDER`: puts a backup back in place of what there is. Heliphon has to be stopped. */
export async function restore([folder]: readonly string[]): Promise<void> {
  const { dataFolder, port, bind } = readSettings(process.env);
  if (!folder) throw new Error('Name the folder of the backup: ./heliphon restore FOLDER');
  const source = resolve(folder);
  await stat(join(source, DUMP)).catch(() => {
    throw new Error(`There is no backup in ${source}: ${DUMP} is missing.`);
  });
  await stat(join(dataFolder, 'secret.key')).catch(() => {
    throw new Error(
      `Put secret.key back into ${dataFolder} first: without it no key or password can be read.`,
    );
  });
  if (await fetch(`http://${bind}:${port}/api/health`).catch(() => null))
    throw new Error('Heliphon is running. Stop it first, then restore.');
  await checkManifest(source);
  const before = await withDatabaseOf(dataFolder, (url) => readBackup(url, dataFolder, source));
  console.log(
    'The backup has been restored. Start Heliphon; the media nodes will then report again what they have recorded.',
  );
  console.log(
    `What was there before has been kept: the database as ${before.database}, files in ${before.folder}.`,
  );
}

/** @param target - made if it is not there. */
export async function writeBackup(url: string, dataFolder: string, target: string): Promise<void> {
  await mkdir(target, { recursive: true, mode: 0o700 });
  await withOptionsFile(url, async (options, database) => {
    const dump = spawn(
      'mariadb-dump',
      [options, '--single-transaction', '--routines', '--hex-blob', database],
      {
        stdio: ['ignore', 'pipe', 'inherit'],
      },
    );
    const ended = exitOf(dump);
    await pipeline(dump.stdout, createGzip(), createWriteStream(join(target, DUMP), { mode: 0o600 }));
    await ended;
  });
  for (const name of FOLDERS)
    await cp(join(dataFolder, name), join(target, name), { recursive: true }).catch(ignoreMissing);
  await writeManifest(target);
}

/** Where what a restored backup took the place of is kept. */
export interface Replaced {
  readonly database: string;
  readonly folder: string;
}

/**
 * Puts a backup in place of what there is: read whole into a database beside the one in use, looked at, and only then
 * changed over.
 * @throws Error where it cannot be read, or a newer Heliphon wrote it; what was there is untouched
 */
export async function readBackup(url: string, dataFolder: string, source: string): Promise<Replaced> {
  const folder = join(dataFolder, `before-restore-${stamp(new Date())}`);
  return withOptionsFile(url, async (options, database) => {
    const beside = `${database}_restoring`;
    const before = `${database}_before_restore`;
    await ask(options, `DROP DATABASE IF EXISTS \`${beside}\`; CREATE DATABASE \`${beside}\``);
    await load(options, beside, join(source, DUMP));
    const { unknown } = await checkSchema({
      ...process.env,
      ...childEnvironment(readSettings(process.env), url.replace(/\/[^/]*$/, `/${beside}`), [NOBODY]),
    });
    if (unknown.length > 0)
      throw new Error(`This backup is from a newer Heliphon (${unknown.join(', ')}). Nothing was changed.`);
    await placeFolders(source, dataFolder, folder);
    await ask(options, `DROP DATABASE IF EXISTS \`${before}\`; CREATE DATABASE \`${before}\``);
    const moves = [
      ...(await tablesOf(options, database)).map((table) => [database, before, table]),
      ...(await tablesOf(options, beside)).map((table) => [beside, database, table]),
    ].map(([from, to, table]) => `\`${from}\`.\`${table}\` TO \`${to}\`.\`${table}\``);
    // One statement: the database is the old one or the new one, never something between.
    await ask(options, `RENAME TABLE ${moves.join(', ')}`);
    await ask(options, `DROP DATABASE \`${beside}\``);
    // For the server, when it starts.
    await writeFile(join(dataFolder, RESTORED_FILE), '');
    return { database: before, folder };
  });
}

/** Copies first, then changes over by rename; what was there goes to `aside`. */
async function placeFolders(source: string, dataFolder: string, aside: string): Promise<void> {
  await mkdir(aside, { recursive: true, mode: 0o700 });
  for (const name of FOLDERS) {
    const next = join(dataFolder, `${name}.restoring`);
    await rm(next, { recursive: true, force: true });
    await mkdir(next, { recursive: true, mode: 0o700 });
    await cp(join(source, name), next, { recursive: true }).catch(ignoreMissing);
    await rename(join(dataFolder, name), join(aside, name)).catch(ignoreMissing);
    await rename(next, join(dataFolder, name));
  }
}

/** @throws Error where the dump is cut short, or is none */
async function load(options: string, database: string, dump: string): Promise<void> {
  const child = spawn('mariadb', [options, database], { stdio: ['pipe', 'inherit', 'inherit'] });
  const ended = exitOf(child);
  await Promise.all([pipeline(createReadStream(dump), createGunzip(), child.stdin), ended]).catch(() => {
    throw new Error('This backup is damaged. Nothing was changed.');
  });
}

/** @returns what the database answers, a line a row */
async function ask(options: string, sql: string): Promise<string[]> {
  const { stdout } = await run('mariadb', [options, '--batch', '--skip-column-names', '--execute', sql]);
  return stdout.split('\n').filter(Boolean);
}

const tablesOf = (options: string, database: string): Promise<string[]> =>
  ask(options, `SHOW TABLES FROM \`${database}\``);

/** The check of the schema starts no node. */
const NOBODY = { nodeId: 'nobody', secret: '' };

/** Passwords go to the database's programs in a file that only we can read, never on a command line. */
async function withOptionsFile<T>(
  url: string,
  work: (options: string, database: string) => Promise<T>,
): Promise<T> {
  const { hostname, port, username, password, pathname } = new URL(url);
  const folder = await mkdtemp(join(tmpdir(), 'heliphon-options-'));
  const lines = [
    '[client]',
    `host=${hostname}`,
    `port=${port || 3306}`,
    `user=${decodeURIComponent(username)}`,
    `password="${decodeURIComponent(password)}"`,
  ];
  try {
    await writeFile(join(folder, 'client.cnf'), lines.join('\n'), { mode: 0o600 });
    return await work(`--defaults-file=${join(folder, 'client.cnf')}`, pathname.slice(1));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

function exitOf(child: ReturnType<typeof spawn>): Promise<void> {
  return new Promise((done, reject) => {
    child.once('error', reject);
    child.once('close', (code) =>
      code === 0 ? done() : reject(new Error(`${child.spawnfile} ended with ${code}.`)),
    );
  });
}

function ignoreMissing(error: NodeJS.ErrnoException): void {
  if (error.code !== 'ENOENT') throw error;
}

/** `2026-03-07-1030`. */
const stamp = (date: Date): string => date.toISOString().slice(0, 16).replace('T', '-').replace(':', '');
