import { chmod, mkdir } from 'node:fs/promises';
import { join } from 'node:path';

/** What people put in, what they sent, and what was said of it. The data folder itself is crossed by the database's user. */
const PRIVATE = ['media', 'files', 'uploads', 'posters', 'node', 'second-node', 'logs', 'backups'];

/** Nobody else on the machine reads them, also where they were made by an earlier Heliphon. */
export async function makePrivate(dataFolder: string): Promise<void> {
  for (const name of PRIVATE) {
    await mkdir(join(dataFolder, name), { recursive: true, mode: 0o700 });
    await chmod(join(dataFolder, name), 0o700);
  }
}
