import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { lockFolder } from './folder-lock.js';
import { Installation } from './installation.js';
import { readSettings } from './settings.js';

interface Access {
  readonly console: string;
  readonly people: readonly { role: string; email: string; password: string }[];
  readonly events: readonly { slug: string; state: string; watch: string }[];
  readonly website: string;
  readonly standins: string;
}

const say = (sentence: string): void => console.log(sentence);

/** `./heliphon demo [--fresh]`: a whole house with an event on air, until Ctrl-C. */
export async function demo(options: readonly string[]): Promise<void> {
  const settings = readSettings(process.env);
  if (options.includes('--fresh')) {
    const lock = await lockFolder(settings.dataFolder);
    await clear(settings.dataFolder).finally(() => lock.release());
  }
  const installation = new Installation(settings, { demo: true, forTests: false }, say);
  await runUntilStopped(installation);
  const access = JSON.parse(await readFile(join(settings.dataFolder, 'access.json'), 'utf8')) as Access;
  printAccess(access, settings.dataFolder);
}

/** `./heliphon start`: the production start, without stand-ins or demo data. */
export async function start(): Promise<void> {
  const settings = readSettings(process.env);
  const installation = new Installation(settings, { demo: false, forTests: false }, say);
  await runUntilStopped(installation);
  say(`Heliphon is running: http://${settings.bind}:${settings.port}`);
}

async function runUntilStopped(installation: Installation): Promise<void> {
  let stopping: Promise<void> | null = null;
  const stop = (code: number): void => {
    stopping ??= installation.stop().then(() => process.exit(code));
  };
  process.on('SIGINT', () => stop(0));
  process.on('SIGTERM', () => stop(0));
  process.on('SIGHUP', () => stop(0));
  try {
    await installation.start();
  } catch (error) {
    if (stopping) await stopping;
    await installation.stop();
    throw error;
  }
}

/** Everything but the film, which is the same every time. */
async function clear(dataFolder: string): Promise<void> {
  for (const name of [
    'mariadb',
    'database.password',
    'media',
    'node',
    'node.json',
    'second-node',
    'posters',
    'files',
    'uploads',
    'database.url',
    'backups',
    'secret.key',
    'access.json',
    'logs',
  ]) {
    await rm(join(dataFolder, name), { recursive: true, force: true });
  }
}

function printAccess(access: Access, dataFolder: string): void {
  const onAir = access.events.find((event) => event.state === 'air');
  const people = access.people.map(
    ({ role, email, password }) => `  ${role.padEnd(10)} ${email.padEnd(30)} ${password}`,
  );
  console.log(
    [
      '',
      'Lantern Quay Commons is on air.',
      '',
      `  Console            ${access.console}`,
      `  Watch page         ${onAir?.watch}`,
      `  On a website       ${access.website}`,
      `  The outside world  ${access.standins}`,
      '',
      'Sign in as',
      ...people,
      '',
      `This is also in ${join(dataFolder, 'access.json')}. Press Ctrl-C to stop.`,
      '',
    ].join('\n'),
  );
}
