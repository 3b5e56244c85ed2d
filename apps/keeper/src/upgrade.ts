import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { writeBackup } from './backup.js';

const run = promisify(execFile);

/** What the server's check says of the database before anything is changed. */
interface SchemaCheck {
  readonly isEmpty: boolean;
  readonly pending: readonly string[];
  /** Steps that this Heliphon does not know: a newer one has been here. */
  readonly unknown: readonly string[];
}

/**
 * Before the server migrates: refuses a database of a newer Heliphon, and backs an older one up.
 * @throws Error with the remedy.
 */
export async function prepareUpgrade(
  dataFolder: string,
  env: NodeJS.ProcessEnv,
  say: (sentence: string) => void,
): Promise<void> {
  const { stdout } = await run(process.execPath, ['dist/server/check-schema.js'], { env });
  const { isEmpty, pending, unknown } = JSON.parse(stdout) as SchemaCheck;
  if (unknown.length > 0) {
    throw new Error(
      `The database was written by a newer Heliphon (${unknown.join(', ')}). Start that one, or restore a backup from before it.`,
    );
  }
  if (isEmpty || pending.length === 0) return;
  const target = join(dataFolder, 'backups', `before-${pending[0]}`);
  say(`Upgrading the database (${pending.length} steps). Backing it up first, to ${target} …`);
  await writeBackup(env.HELIPHON_DATABASE_URL!, dataFolder, target);
}
