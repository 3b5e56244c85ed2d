import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readdir, readFile, stat, writeFile } from 'node:fs/promises';
import { join, relative } from 'node:path';
import { pipeline } from 'node:stream/promises';
import Joi from 'joi';

const NAME = 'manifest.json';
const FORMAT_VERSION = 1;

interface KeptFile {
  readonly sizeBytes: number;
  readonly sha256Hex: string;
}

/** What a backup holds, so that one that is cut short is known before anything is put in its place. */
interface Manifest {
  readonly formatVersion: number;
  readonly takenAt: string;
  readonly files: Readonly<Record<string, KeptFile>>;
}

const schema = Joi.object<Manifest>({
  formatVersion: Joi.number().integer().required(),
  takenAt: Joi.string().isoDate().required(),
  files: Joi.object()
    .pattern(
      Joi.string(),
      Joi.object({ sizeBytes: Joi.number().integer().required(), sha256Hex: Joi.string().hex().required() }),
    )
    .required(),
});

/** Writes down what lies in a backup's folder; last of all, so that a backup without it is not whole. */
export async function writeManifest(folder: string): Promise<void> {
  const files: Record<string, KeptFile> = {};
  for (const path of await filesIn(folder)) files[relative(folder, path)] = await describe(path);
  const manifest: Manifest = { formatVersion: FORMAT_VERSION, takenAt: new Date().toISOString(), files };
  await writeFile(join(folder, NAME), `${JSON.stringify(manifest, null, 1)}\n`, { mode: 0o600, flush: true });
}

/** Looks through the whole of a backup. @throws Error naming the first thing that is missing or not as it was */
export async function checkManifest(folder: string): Promise<void> {
  const text = await readFile(join(folder, NAME), 'utf8').catch(() => {
    throw new Error(`There is no complete backup in ${folder}: ${NAME} is missing. Nothing was changed.`);
  });
  const { value, error } = schema.validate(parse(text));
  if (error) throw new Error(`${join(folder, NAME)} cannot be read. Nothing was changed.`);
  if (value.formatVersion > FORMAT_VERSION)
    throw new Error(
      `This backup was taken by a newer Heliphon. Restore it with that version. Nothing was changed.`,
    );
  for (const [name, kept] of Object.entries(value.files)) {
    const is = await describe(join(folder, name)).catch(() => null);
    if (is?.sizeBytes !== kept.sizeBytes || is.sha256Hex !== kept.sha256Hex)
      throw new Error(
        `${name} of this backup is ${is ? 'damaged' : 'missing'}. Nothing was changed: take another backup.`,
      );
  }
}

async function filesIn(folder: string): Promise<string[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  return entries
    .filter((entry) => entry.isFile() && entry.name !== NAME)
    .map(({ parentPath, name }) => join(parentPath, name));
}

async function describe(path: string): Promise<KeptFile> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return { sizeBytes: (await stat(path)).size, sha256Hex: hash.digest('hex') };
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
