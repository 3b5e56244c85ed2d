import { chmod, mkdir, mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { createConnection } from 'mysql2/promise';
import { KeptChild } from '../src/child.js';
import { lockFolder } from '../src/folder-lock.js';
import { startMariaDb } from '../src/mariadb.js';
import { freePort, isFree, requireFree } from '../src/ports.js';
import { makePrivate } from '../src/private-folders.js';
import { childEnvironment, nodeIdentity, readSettings, secondEnvironment } from '../src/settings.js';
import { until } from '../../../tests/until.js';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'heliphon-keeper-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

describe('a child that is kept', () => {
  const said: string[] = [];
  async function keep(code: string): Promise<KeptChild> {
    said.length = 0;
    const script = join(folder, 'child.mjs');
    await writeFile(script, code);
    const settings = {
      name: 'node',
      script,
      env: { ...process.env, FILE: join(folder, 'out') },
      logFile: join(folder, 'log'),
      niceness: 3,
    };
    const child = new KeptChild(settings, (sentence) => said.push(sentence));
    child.start();
    return child;
  }
  const lives = async (): Promise<number> =>
    (await readFile(join(folder, 'out'), 'utf8').catch(() => '')).length;
  const LIVE = `import { appendFileSync } from 'node:fs'; appendFileSync(process.env.FILE, 'x'); setInterval(() => {}, 1000);`;

  test('is back a second after it was killed, and says so', async () => {
    const child = await keep(LIVE);
    await until(async () => (await lives()) === 1, 'its life');
    process.kill(child.pid!, 'SIGKILL');
    await until(async () => (await lives()) === 2, 'its second life');
    expect(said[0]).toMatch(/^The node stopped \(SIGKILL\)\. Restarting in 1 s/);
    await child.stop();
  });

  test('stops when it is asked to, and stays away', async () => {
    const child = await keep(LIVE);
    await until(async () => (await lives()) === 1, 'its life');
    await child.stop();
    expect(said).toEqual([]);
    expect(await lives()).toBe(1);
  });

  test('waits longer each time it falls at once', async () => {
    const child = await keep(
      `import { appendFileSync } from 'node:fs'; appendFileSync(process.env.FILE, 'x'); process.exit(3);`,
    );
    await until(() => said.length >= 2, 'two falls');
    await child.stop();
    expect(said[0]).toContain('Restarting in 1 s');
    expect(said[1]).toContain('Restarting in 2 s');
  });

  test('what it says goes to its log', async () => {
    const child = await keep(`console.log('hello from the child'); setInterval(() => {}, 1000);`);
    await until(
      async () =>
        (await readFile(join(folder, 'log'), 'utf8').catch(() => '')).includes('hello from the child'),
      'its words',
    );
    await child.stop();
  });
});

describe('a data folder', () => {
  test('has one keeper at a time, and another once that has ended', async () => {
    const lock = await lockFolder(folder);
    await expect(lockFolder(join(folder, '.'))).rejects.toThrow(/is running on .* already/);
    await lock.release();
    await (await lockFolder(folder)).release();
  });

  test('is nobody else’s to read, also where it was made before', async () => {
    await mkdir(join(folder, 'media'), { mode: 0o755 });
    await makePrivate(folder);
    for (const name of ['media', 'files', 'posters', 'logs'])
      expect([name, (await stat(join(folder, name))).mode & 0o777]).toEqual([name, 0o700]);
  });
});

describe('the database', () => {
  const answers = async (url: string): Promise<boolean> => {
    const connection = await createConnection(url).catch(() => null);
    await connection?.end();
    return connection !== null;
  };

  test('killed, is back at the same address; left over by a killed keeper, it is ended by the next', async () => {
    await chmod(folder, 0o711);
    const said: string[] = [];
    const database = await startMariaDb({ folder, forTests: true, say: (sentence) => said.push(sentence) });
    const { url, pid } = database;
    process.kill(pid!, 'SIGKILL');
    await until(
      () => said.some((sentence) => sentence.startsWith('The database stopped (SIGKILL)')),
      'its end',
    );
    await until(() => answers(url), 'its return');
    expect(database.pid).not.toBe(pid);

    const next = await startMariaDb({ folder, forTests: true });
    expect(await answers(next.url)).toBe(true);
    expect(next.pid).not.toBe(database.pid);
    await database.stop();
    await next.stop();
  });
});

describe('ports', () => {
  test('a free one is free until somebody takes it', async () => {
    const port = await freePort();
    expect(await isFree(port, '127.0.0.1')).toBe(true);
    const server = createServer().listen(port, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    expect(await isFree(port, '127.0.0.1')).toBe(false);
    server.close();
  });
});

test('a port that is taken is named, with the setting that chooses another', async () => {
  const port = await freePort();
  await requireFree({ HELIPHON_MEDIA_PORT: port }, '127.0.0.1');
  const server = createServer().listen(port, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  await expect(requireFree({ HELIPHON_MEDIA_PORT: port }, '127.0.0.1')).rejects.toThrow(
    `Port ${port} is taken. End what uses it, or choose another with HELIPHON_MEDIA_PORT.`,
  );
  server.close();
});

describe('settings', () => {
  test('are the fixed ones unless they are set, so that two installations run side by side', () => {
    expect(readSettings({})).toMatchObject({
      port: 4600,
      mediaPort: 4610,
      rtmpPort: 1935,
      second: { mediaPort: 4611, rtmpPort: 1936, srtPort: 4660 },
      standinsPort: 4630,
      bind: '127.0.0.1',
    });
    expect(readSettings({ HELIPHON_PORT: '5600', HELIPHON_DATA: '/tmp/other' })).toMatchObject({
      port: 5600,
      dataFolder: '/tmp/other',
    });
  });
  test.each(['no', '0', '70000', '1.5'])('%s is no port', (value) => {
    expect(() => readSettings({ HELIPHON_MEDIA_PORT: value })).toThrow('HELIPHON_MEDIA_PORT must be a port');
  });
  test('a second node on this machine has ports, folder and secret of its own, and no address of the first', async () => {
    const settings = readSettings({ HELIPHON_DATA: folder, HELIPHON_MEDIA_PORT: '5610' });
    const nodes = await Promise.all([
      nodeIdentity(folder, 'built-in'),
      nodeIdentity(join(folder, 'second'), 'hill-house'),
    ]);
    const first: NodeJS.ProcessEnv = {
      ...childEnvironment(settings, 'mysql://x', nodes),
      HELIPHON_MEDIA_URL: 'https://quay.example',
    };
    expect(first.HELIPHON_NODES).toMatch(/^built-in:[0-9a-f]{64},hill-house:[0-9a-f]{64}$/);
    const second = secondEnvironment(first, settings.second, nodes[1], join(folder, 'second'));
    expect(second).toMatchObject({
      HELIPHON_NODE_ID: 'hill-house',
      HELIPHON_MEDIA_PORT: '5611',
      HELIPHON_RTMP_PORT: '1936',
      HELIPHON_SRT_PORT: '4660',
      HELIPHON_DATA: join(folder, 'second'),
      HELIPHON_MEDIA_URL: '',
      HELIPHON_SERVER_URL: first.HELIPHON_SERVER_URL,
    });
    expect(second.HELIPHON_NODE_SECRET).not.toBe(first.HELIPHON_NODE_SECRET);
  });
  test('the node’s secret is made once; the server gets its hash alone', async () => {
    const first = await nodeIdentity(folder, 'built-in');
    expect(await nodeIdentity(folder, 'built-in')).toEqual(first);
    const env = childEnvironment(readSettings({ HELIPHON_DATA: folder }), 'mysql://x', [first]);
    expect(env.HELIPHON_NODES).toMatch(/^built-in:[0-9a-f]{64}$/);
    expect(env.HELIPHON_NODES).not.toContain(first.secret);
  });
});
