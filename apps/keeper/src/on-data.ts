import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { withDatabaseOf } from './database.js';
import { childEnvironment, nodeIdentity, readSettings } from './settings.js';

const run = promisify(execFile);

/** Runs one of the server's commands on the installation's data, whether it is running or not. @returns what it said */
export async function runOnData(script: string, ...parameters: readonly string[]): Promise<string> {
  const settings = readSettings(process.env);
  return withDatabaseOf(settings.dataFolder, async (url) => {
    const env = childEnvironment(settings, url, [await nodeIdentity(settings.dataFolder, BUILT_IN)]);
    const { stdout } = await run(process.execPath, [script, ...parameters], { env }).catch(sayWhy);
    return stdout.trim();
  });
}

/** The media node beside the server. */
export const BUILT_IN = 'built-in';

/** Of a command that failed, its own sentence; not where in its code it stood. */
function sayWhy(error: { stderr?: string; message: string }): never {
  const [, sentence] = /^(?:\w*Error: )(.*)$/m.exec(error.stderr ?? '') ?? [];
  throw new Error(sentence ?? error.message);
}
