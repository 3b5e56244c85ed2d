import { execFile, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdir, mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { createConnection, type RowDataPacket } from 'mysql2/promise';
import type { EventView } from '@heliphon/contracts/events';
import type { PointView } from '@heliphon/contracts/nodes';
import type { OpenedInvitation } from '@heliphon/contracts/people';
import { type HouseClient, ServerDriver, until } from '../../server/test/driver.js';
import { freePort } from '../src/ports.js';
import { childEnvironment, readSettings } from '../src/settings.js';
import { prepareUpgrade } from '../src/upgrade.js';

let server: ServerDriver;
let house: HouseClient;
let folder: string;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house('owner', 'Tide Mill Hall');
});
afterAll(() => server.stop());
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'heliphon-operations-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

interface Ended {
  readonly code: number;
  readonly said: string;
}

/** `./heliphon …`, as somebody types it, in a folder and with a database of its own. */
async function heliphon(parameters: readonly string[], over: NodeJS.ProcessEnv = {}): Promise<Ended> {
  const ports = {
    HELIPHON_PORT: String(await freePort()),
    HELIPHON_MEDIA_PORT: String(await freePort()),
    HELIPHON_RTMP_PORT: String(await freePort()),
  };
  const env = {
    ...process.env,
    ...ports,
    HELIPHON_DATA: folder,
    HELIPHON_DATABASE_URL: server.databaseUrl,
    NODE_OPTIONS: '',
    ...over,
  };
  return new Promise((resolve) => {
    execFile(process.execPath, ['dist/keeper/main.js', ...parameters], { env }, (error, stdout, stderr) =>
      resolve({ code: Number(error?.code ?? 0), said: stdout + stderr }),
    );
  });
}

async function query(
  sql: string,
  values: unknown[] = [],
  url = server.databaseUrl,
): Promise<RowDataPacket[]> {
  const connection = await createConnection(url);
  try {
    return (await connection.query<RowDataPacket[]>(sql, values))[0];
  } finally {
    await connection.end();
  }
}

describe('a backup', () => {
  /** The same database server, another database: what a new machine would have. */
  async function emptyDatabase(): Promise<string> {
    const name = `t_restore_${randomUUID().slice(0, 8)}`;
    await query(`CREATE DATABASE ${name}`);
    return server.databaseUrl.replace(/\/[^/]*$/, `/${name}`);
  }

  test('taken while the server runs comes back whole on another machine, posters too', async () => {
    const event: EventView = await house.event(600, 660);
    await mkdir(join(folder, 'posters'));
    await writeFile(join(folder, 'posters', 'pier.webp'), 'a picture');
    const target = join(folder, 'kept');
    expect(await heliphon(['backup', target])).toMatchObject({ code: 0 });

    const machine = join(folder, 'another-machine');
    await mkdir(machine);
    await writeFile(join(machine, 'secret.key'), Buffer.alloc(32, 7));
    const url = await emptyDatabase();
    const over = { HELIPHON_DATA: machine, HELIPHON_DATABASE_URL: url };
    expect(await heliphon(['restore', target], over)).toMatchObject({ code: 0 });
    expect(await query('SELECT title, starts_at FROM events WHERE id = ?', [event.id], url)).toEqual(
      await query('SELECT title, starts_at FROM events WHERE id = ?', [event.id]),
    );
    expect(await query('SELECT COUNT(*) AS n FROM happenings', [], url)).toEqual(
      await query('SELECT COUNT(*) AS n FROM happenings'),
    );
    expect(await readFile(join(machine, 'posters', 'pier.webp'), 'utf8')).toBe('a picture');
  });

  test('holds no key file, is its owner’s alone, and leaves no password behind on the way', async () => {
    await writeFile(join(folder, 'secret.key'), Buffer.alloc(32, 7));
    const target = join(folder, 'kept');
    const { said } = await heliphon(['backup', target]);
    expect((await readdir(target)).sort()).toEqual(['database.sql.gz', 'manifest.json']);
    expect((await stat(join(target, 'database.sql.gz'))).mode & 0o077).toBe(0);
    expect(said).toContain('secret.key');
    expect(said).not.toContain(new URL(server.databaseUrl).password || 'no password to tell');
    expect((await readdir(tmpdir())).filter((name) => name.startsWith('heliphon-options-'))).toEqual([]);
  });

  test('that is damaged, cut short, or of a newer Heliphon changes nothing', async () => {
    const target = join(folder, 'kept');
    await writeFile(join(folder, 'secret.key'), Buffer.alloc(32, 7));
    await heliphon(['backup', target]);
    const url = await emptyDatabase();
    await query('CREATE TABLE precious (id int)', [], url);
    const restore = () => heliphon(['restore', target], { HELIPHON_DATABASE_URL: url });
    const dump = join(target, 'database.sql.gz');
    const whole = await readFile(dump);
    await writeFile(dump, whole.subarray(0, whole.byteLength / 2));
    expect((await restore()).said).toContain('is damaged. Nothing was changed');
    await rm(dump);
    expect((await restore()).said).toContain('There is no backup');
    await writeFile(dump, whole);
    const manifest = JSON.parse(await readFile(join(target, 'manifest.json'), 'utf8')) as object;
    await writeFile(join(target, 'manifest.json'), JSON.stringify({ ...manifest, formatVersion: 9 }));
    expect((await restore()).said).toContain('taken by a newer Heliphon');
    expect(await query('SHOW TABLES', [], url)).toHaveLength(1);
  });

  test('put back keeps what it takes the place of', async () => {
    const target = join(folder, 'kept');
    await writeFile(join(folder, 'secret.key'), Buffer.alloc(32, 7));
    await mkdir(join(folder, 'posters'));
    await heliphon(['backup', target]);
    const url = await emptyDatabase();
    await query('CREATE TABLE precious (id int)', [], url);
    await writeFile(join(folder, 'posters', 'later.webp'), 'since then');
    const { said } = await heliphon(['restore', target], { HELIPHON_DATABASE_URL: url });
    expect(said).toContain('has been kept');
    const name = new URL(url).pathname.slice(1);
    expect(await query(`SHOW TABLES FROM ${name}_before_restore`)).toHaveLength(1);
    expect(await query("SHOW TABLES LIKE 'precious'", [], url)).toHaveLength(0);
    const [aside] = (await readdir(folder)).filter((entry) => entry.startsWith('before-restore-'));
    expect(await readFile(join(folder, aside!, 'posters', 'later.webp'), 'utf8')).toBe('since then');
  });

  test('is not put back without its key, over a running house, or from a folder that holds none', async () => {
    const target = join(folder, 'kept');
    await heliphon(['backup', target]);
    const empty = await heliphon(['restore', folder]);
    expect([empty.code, empty.said]).toEqual([1, expect.stringContaining('There is no backup in')]);
    const keyless = await heliphon(['restore', target]);
    expect([keyless.code, keyless.said]).toEqual([1, expect.stringContaining('Put secret.key back')]);
    await writeFile(join(folder, 'secret.key'), Buffer.alloc(32, 7));
    const running = await heliphon(['restore', target], { HELIPHON_PORT: new URL(server.url).port });
    expect([running.code, running.said]).toEqual([1, expect.stringContaining('Stop it first')]);
    expect((await house.get('/api/house')).status).toBe(200);
  });
});

describe('a new house', () => {
  test('is there with a link by which its owner comes in', async () => {
    const { code, said } = await heliphon(
      ['house', 'St Brannoc on the Hill', 'ann@brannoc.example', 'Europe/Lisbon'],
      {
        HELIPHON_PUBLIC_URL: 'https://live.brannoc.example/',
        HELIPHON_SECRET_FILE: join(server.folder, 'secret.key'),
      },
    );
    expect(code).toBe(0);
    const secret = /https:\/\/live\.brannoc\.example\/welcome\/(\w+)/.exec(said)?.[1];
    const opened = await server.anybody().get<OpenedInvitation>(`/api/welcome/${secret}`);
    expect(opened.body).toMatchObject({ houseName: 'St Brannoc on the Hill', email: 'ann@brannoc.example' });
    const [row] = await query('SELECT zone FROM houses WHERE name = ?', ['St Brannoc on the Hill']);
    expect(row!.zone).toBe('Europe/Lisbon');
  });

  test.each([
    [[], 'Give a name, the email address of its owner and a time zone'],
    [['Hill', 'not-an-address', 'Europe/London'], 'must be a valid email'],
    [['Hill', 'ann@brannoc.example', 'Europe/Atlantis'], 'Europe/Atlantis is no time zone'],
  ])('%j says what is wrong and makes nothing', async (parameters, words) => {
    const before = await query('SELECT COUNT(*) AS n FROM houses');
    const { code, said } = await heliphon(['house', ...parameters]);
    expect([code, said]).toEqual([1, expect.stringContaining(words)]);
    expect(await query('SELECT COUNT(*) AS n FROM houses')).toEqual(before);
  });
});

describe('a media node elsewhere', () => {
  const points = async (): Promise<PointView[]> =>
    (await house.get<{ items: PointView[] }>('/api/points')).body.items;

  /** With the key file that the server has. */
  const nodes = (...parameters: string[]): Promise<Ended> =>
    heliphon(parameters, { HELIPHON_SECRET_FILE: join(server.folder, 'secret.key') });

  /** `./heliphon node`, in a folder of its own. */
  async function startNode(settings: NodeJS.ProcessEnv, name: string) {
    const data = join(folder, name);
    const child = spawn(process.execPath, ['dist/keeper/main.js', 'node'], {
      stdio: 'ignore',
      env: {
        ...process.env,
        ...settings,
        NODE_OPTIONS: '',
        HELIPHON_SERVER_URL: server.url,
        HELIPHON_NODE_PLACE: 'Hill House',
        HELIPHON_MEDIA_PORT: String(await freePort()),
        HELIPHON_RTMP_PORT: String(await freePort()),
        HELIPHON_DATA: data,
      },
    });
    const ended = new Promise((resolve) => child.once('close', resolve));
    return {
      log: () => readFile(join(data, 'logs', 'media-node.log'), 'utf8').catch(() => ''),
      stop: async () => {
        child.kill('SIGTERM');
        await ended;
      },
    };
  }

  test('is taken in by its name, runs by what that printed, and is forgotten once its recordings are elsewhere', async () => {
    const added = await nodes('add-node', 'hill-house');
    expect(added.code).toBe(0);
    const settings = Object.fromEntries(
      [...added.said.matchAll(/^ {2}(HELIPHON_\w+)=(\S+)$/gm)].map(([, name, value]) => [name!, value!]),
    );
    expect(settings.HELIPHON_NODE_ID).toBe('hill-house');
    expect((await nodes('add-node', 'hill-house')).said).toContain('Give this one another name');
    expect((await nodes('add-node', 'hill house')).code).toBe(1);

    const node = await startNode(settings, 'hill');
    const twin = await startNode(settings, 'copy-of-hill');
    try {
      const hill = () => points().then((all) => all.find(({ nodeId }) => nodeId === 'hill-house'));
      await until(async () => (await hill())?.presence === 'here', 'the node');
      expect(await hill()).toMatchObject({
        place: 'Hill House',
        reachUrl: expect.stringContaining('/reach'),
      });
      // A copy of it, on another machine, is told why it is not taken, and takes over once the first is gone.
      const refused = await until(async () => {
        const logs = await Promise.all([node, twin].map(({ log }) => log()));
        return [node, twin].find((_, at) => logs[at]!.includes('Another media node goes by this name'));
      }, 'one of them to be told');
      expect((await hill())?.double).not.toBeNull();
      await (refused === node ? twin : node).stop();
      await until(async () => (await refused.log()).includes('The server is there'), 'the other to be taken');
    } finally {
      await Promise.all([node.stop(), twin.stop()]);
    }

    const event = await house.event(60, 120);
    await house.move((await house.move(event, 'go-on-air')).body, 'end');
    const hill = await server.dialAsNode(settings.HELIPHON_NODE_SECRET, 'hill-house');
    const { programmeId } = event;
    const kept = {
      kind: 'recording-kept',
      loudness: null,
      gapsMs: 0,
      programmeId,
      durationMs: 9000,
      sizeBytes: 9,
      atMs: Date.now(),
    } as const;
    hill.observe(1, kept);
    await until(() => hill.storedSeq === 1, 'the recording');
    hill.close();
    expect((await nodes('forget-node', 'hill-house')).said).toContain('A recording lies there');
    expect((await nodes('forget-node', 'hill-house', 'nowhere')).said).toContain('no media node nowhere');
    expect(await nodes('forget-node', 'hill-house', 'n1')).toMatchObject({ code: 0 });
    expect(await query('SELECT node_id FROM events WHERE id = ?', [event.id])).toEqual([{ node_id: 'n1' }]);
    expect((await points()).map(({ nodeId }) => nodeId)).not.toContain('hill-house');
    expect((await nodes('forget-node', 'hill-house')).said).toContain('There is no media node hill-house');
  });

  test('that has not been told whose it is says what is missing', async () => {
    const { code, said } = await heliphon(['node'], { HELIPHON_NODE_ID: 'hill-house' });
    expect(code).toBe(1);
    expect(said).toContain('Set HELIPHON_SERVER_URL, HELIPHON_NODE_SECRET');
  });
});

describe('an upgrade', () => {
  const prepare = async (said: string[] = []): Promise<string[]> => {
    const settings = readSettings({ HELIPHON_DATA: folder });
    const env = childEnvironment(settings, server.databaseUrl, [{ nodeId: 'n1', secret: 'n' }]);
    await prepareUpgrade(folder, { ...env, NODE_OPTIONS: '' }, (sentence) => said.push(sentence));
    return said;
  };

  test('of a database that is up to date does nothing', async () => {
    expect(await prepare()).toEqual([]);
    expect(await readdir(folder)).toEqual([]);
  });

  test('of an older one backs it up first, and says where', async () => {
    const [last] = await query('SELECT * FROM migrations ORDER BY id DESC LIMIT 1');
    await query('DELETE FROM migrations WHERE id = ?', [last!.id]);
    try {
      const [sentence] = await prepare();
      expect(sentence).toMatch(/^Upgrading the database \(1 steps\)\. Backing it up first/);
      const [kept] = await readdir(join(folder, 'backups'));
      expect(kept).toBe(`before-${last!.name}`);
      expect(await readdir(join(folder, 'backups', kept!))).toContain('database.sql.gz');
    } finally {
      await query('INSERT INTO migrations SET ?', [last]);
    }
  });

  test('backwards is refused before anything is touched', async () => {
    const name = 'FromTomorrow1999000000000';
    await query('INSERT INTO migrations SET ?', [{ timestamp: 1999000000000, name }]);
    try {
      await expect(prepare()).rejects.toThrow(/newer Heliphon \(FromTomorrow1999000000000\)/);
    } finally {
      await query('DELETE FROM migrations WHERE name = ?', [name]);
    }
  });
});

describe('the doctor', () => {
  const doctor = (over: NodeJS.ProcessEnv = {}): Promise<Ended> => heliphon(['doctor'], over);

  test('finds nothing in the way where everything is right', async () => {
    const { code, said } = await doctor({
      HELIPHON_PUBLIC_URL: 'https://live.brannoc.example',
      HELIPHON_RTMP_URL: 'rtmp://live.brannoc.example',
    });
    expect(said).toContain('✓ The database at HELIPHON_DATABASE_URL is responding.');
    expect(said).toContain('✓ HELIPHON_PUBLIC_URL is https://live.brannoc.example.');
    expect([code, said.includes('▲')]).toEqual([0, false]);
  });

  test.each<[string, () => Promise<NodeJS.ProcessEnv>, RegExp]>([
    [
      'a database that is away',
      async () => ({ HELIPHON_DATABASE_URL: `mysql://a:b@127.0.0.1:${await freePort()}/x` }),
      /▲ The database at HELIPHON_DATABASE_URL is not responding\./,
    ],
    [
      'an address that is none',
      async () => ({ HELIPHON_RTMP_URL: 'live.brannoc.example' }),
      /▲ HELIPHON_RTMP_URL is .* it must begin with rtmp:\/\//,
    ],
    [
      'a key file of another size',
      async () => {
        await writeFile(join(folder, 'short.key'), 'too short');
        return { HELIPHON_SECRET_FILE: join(folder, 'short.key') };
      },
      /▲ .*short\.key must be 32 bytes long\. Restore it/,
    ],
    [
      'a certificate that cannot be read',
      async () => ({ HELIPHON_TLS_CERTIFICATE: join(folder, 'none.pem') }),
      /▲ The certificate .*none\.pem cannot be read\./,
    ],
    [
      'a mail server that is away',
      async () => ({ HELIPHON_SMTP_URL: `smtp://127.0.0.1:${await freePort()}` }),
      /▲ The mail server 127\.0\.0\.1 is not responding\./,
    ],
  ])('names %s, with what to do, and exits with 1', async (_what, setting, words) => {
    const { code, said } = await doctor(await setting());
    expect(said).toMatch(words);
    expect(code).toBe(1);
  });

  test('names a port that is taken, and the setting that chooses another', async () => {
    const taken = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => taken.once('listening', resolve));
    const address = taken.address();
    const port = typeof address === 'object' ? address!.port : 0;
    const { code, said } = await doctor({ HELIPHON_RTMP_PORT: String(port) });
    expect(said).toContain(
      `▲ Port ${port} is taken. End what uses it, or choose another with HELIPHON_RTMP_PORT.`,
    );
    expect(code).toBe(1);
    await new Promise((resolve) => taken.close(resolve));
  });
});
