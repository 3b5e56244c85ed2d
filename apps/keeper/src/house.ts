import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { withDatabaseOf } from './database.js';
import { childEnvironment, nodeIdentity, readSettings } from './settings.js';

const run = promisify(execFile);

/** `./heliphon house NAME EMAIL ZONE`: a new house, and the link by which its owner comes in. */
export async function house([name, email, zone = 'Europe/London']: readonly string[]): Promise<void> {
  if (!name || !email)
    throw new Error(
      'Say its name, its owner and where it is: ./heliphon house "St Brannoc" ann@brannoc.example Europe/London',
    );
  const settings = readSettings(process.env);
  await withDatabaseOf(settings.dataFolder, async (url) => {
    const env = childEnvironment(settings, url, await nodeIdentity(settings.dataFolder));
    const { stdout } = await run(process.execPath, ['dist/server/add-house.js', name, email, zone], { env });
    console.log(stdout.trim());
  });
}
