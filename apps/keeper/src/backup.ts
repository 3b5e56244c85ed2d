import { spawn } from 'node:child_process';
import { createReadStream, createWriteStream } from 'node:fs';
import { cp, mkdir, mkdtemp, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { withDatabaseOf } from './database.js';
import { readSettings } from './settings.js';

const DUMP = 'database.sql.gz';
/** What people uploaded. */
const FOLDERS = ['posters', 'files'];

/**
 * `./heliphon backup [FOLDER]`: the database, posters and files, while everything runs. Recordings are files that never
 * change: copy `media/` as you copy any folder. The key file stays out on purpose: kept apart, a stolen backup opens
 * nothing.
 */
export async function backup([folder]: readonly string[]): Promise<void> {
  const { dataFolder } = readSettings(process.env);
  const target = resolve(folder ?? join(dataFolder, 'backups', stamp(new Date())));
  await withDatabaseOf(dataFolder, (url) => writeBackup(url, dataFolder, target));
  console.log(`The backup is in ${target}. Keep ${join(dataFolder, 'secret.key')} too, in another place.`);
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
  await withDatabaseOf(dataFolder, (url) => readBackup(url, dataFolder, source));
  console.log('The backup is back. Start Heliphon.');
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
  await copyFolders(dataFolder, target);
}

export async function readBackup(url: string, dataFolder: string, source: string): Promise<void> {
  await withOptionsFile(url, async (options, database) => {
    const load = spawn('mariadb', [options], { stdio: ['pipe', 'inherit', 'inherit'] });
    const ended = exitOf(load);
    load.stdin.write(
      `DROP DATABASE IF EXISTS \`${database}\`; CREATE DATABASE \`${database}\`; USE \`${database}\`;\n`,
    );
    await pipeline(createReadStream(join(source, DUMP)), createGunzip(), load.stdin);
    await ended;
  });
  await copyFolders(source, dataFolder);
}

async function copyFolders(from: string, to: string): Promise<void> {
  for (const name of FOLDERS)
    await cp(join(from, name), join(to, name), { recursive: true }).catch(ignoreMissing);
}

/** Passwords go to the database's programs in a file that only we can read, never on a command line. */
async function withOptionsFile(
  url: string,
  work: (options: string, database: string) => Promise<void>,
): Promise<void> {
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
    await work(`--defaults-file=${join(folder, 'client.cnf')}`, pathname.slice(1));
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
