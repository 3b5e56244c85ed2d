import { join } from 'node:path';
import { writeBackup } from './backup.js';
import { checkSchema } from './schema-check.js';

/**
 * Before the server migrates: refuses a database of a newer Heliphon, and backs an older one up.
 * @throws Error with the remedy.
 */
export async function prepareUpgrade(
  dataFolder: string,
  env: NodeJS.ProcessEnv,
  say: (sentence: string) => void,
): Promise<void> {
  const { isEmpty, pending, unknown } = await checkSchema(env);
  if (unknown.length > 0) {
    throw new Error(
      `The database was written by a newer Heliphon (${unknown.join(', ')}). Start that version, or restore an earlier backup.`,
    );
  }
  if (isEmpty || pending.length === 0) return;
  const target = join(dataFolder, 'backups', `before-${pending[0]}`);
  say(`Upgrading the database (${pending.length} steps). Backing it up first, to ${target} …`);
  await writeBackup(env.HELIPHON_DATABASE_URL!, dataFolder, target);
}
