import { execFile } from 'node:child_process';
import { promisify } from 'node:util';

const run = promisify(execFile);

/** What the server's check says of a database before anything is changed. */
export interface SchemaCheck {
  readonly isEmpty: boolean;
  readonly pending: readonly string[];
  /** Steps that this Heliphon does not know: a newer one has been here. */
  readonly unknown: readonly string[];
}

/** @param env - names the database that is looked at */
export async function checkSchema(env: NodeJS.ProcessEnv): Promise<SchemaCheck> {
  const { stdout } = await run(process.execPath, ['dist/server/check-schema.js'], { env });
  return JSON.parse(stdout) as SchemaCheck;
}
