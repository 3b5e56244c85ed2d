import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { chmod } from 'node:fs/promises';
import { createConnection } from 'mysql2/promise';
import { startMariaDb } from '../apps/keeper/src/mariadb.js';
import { ownFolder, tied } from './support/children.js';
import { median, option, quantile, untilQuiet } from './support/rig.js';

// A week's view, a search and an edit in a house of 10,000 events and 200 series: over HTTP as the console asks them,
// against the rows of the same questions in bare SQL (the yardstick).

const TIMES = 100;
const BUDGET_MS = 100;
const WEEK_MS = 7 * 86_400_000;

interface House {
  readonly url: string;
  readonly databaseUrl: string;
  readonly houseId: string;
  readonly authorization: string;
}

/** How long each of many calls took, in ms. */
async function timed(call: (nth: number) => Promise<unknown>): Promise<number[]> {
  const took: number[] = [];
  for (let nth = 0; nth < TIMES; nth += 1) {
    const from = performance.now();
    await call(nth);
    took.push(performance.now() - from);
  }
  return took;
}

/** Rejects when the house could not be built. */
async function failed(child: ChildProcess): Promise<never> {
  const [code] = (await once(child, 'exit')) as [number | null];
  throw new Error(`The house ended with ${code}`);
}

const weekOf = (nth: number): readonly [number, number] => {
  const fromMs = Date.now() + ((nth % 20) - 10) * WEEK_MS;
  return [fromMs, fromMs + WEEK_MS];
};

async function measure(house: House): Promise<Record<string, readonly [ours: number[], bare: number[]]>> {
  const headers = { authorization: house.authorization, 'content-type': 'application/json' };
  const ask = async <T>(path: string, init: RequestInit = {}): Promise<T> => {
    const response = await fetch(house.url + path, { ...init, headers: { ...headers, ...init.headers } });
    if (!response.ok) throw new Error(`${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };
  const list = (query: string) => ask<{ items: { id: string; version: number }[] }>(`/api/events?${query}`);
  const sql = await createConnection({ uri: house.databaseUrl, timezone: 'Z' });
  const { items } = await list(`from=${Date.now()}&limit=${TIMES}`);
  const versions = new Map(items.map(({ id, version }) => [id, version]));
  const edit = async (nth: number): Promise<void> => {
    const { id } = items[nth % items.length]!;
    const body = JSON.stringify({ description: `Edited ${nth}` });
    const saved = await ask<{ version: number }>(`/api/events/${id}`, {
      method: 'PATCH',
      body,
      headers: { 'if-match': `"${versions.get(id)}"` },
    });
    versions.set(id, saved.version);
  };
  await untilQuiet();
  const result = {
    week: [
      await timed((nth) => list(`from=${weekOf(nth)[0]}&to=${weekOf(nth)[1]}&limit=200`)),
      await timed((nth) =>
        sql.query(
          'SELECT * FROM events WHERE house_id = ? AND starts_at BETWEEN ? AND ? ORDER BY starts_at, id LIMIT 201',
          [house.houseId, ...weekOf(nth).map((ms) => new Date(ms))],
        ),
      ),
    ],
    search: [
      await timed((nth) => list(`from=${Date.now()}&limit=30&q=gathering ${nth % 200} of`)),
      await timed((nth) =>
        sql.query(
          'SELECT * FROM events WHERE house_id = ? AND starts_at > ? AND title LIKE ? ORDER BY starts_at, id LIMIT 31',
          [house.houseId, new Date(), `%gathering ${nth % 200} of%`],
        ),
      ),
    ],
    edit: [
      await timed(edit),
      await timed((nth) =>
        sql.query('UPDATE events SET description = ? WHERE id = ?', [`Bare ${nth}`, items[nth]!.id]),
      ),
    ],
  } as const;
  await sql.end();
  return result;
}

const folder = ownFolder();
await chmod(folder, 0o755); // the database is another user
const database = await startMariaDb({ folder, forTests: false });
process.env.HELIPHON_TEST_DATABASE_URL = database.url;
const slowest: number[] = [];
const ratios: number[] = [];
try {
  for (let run = 0; run < option('runs', 3); run += 1) {
    const child = tied(fork('dist/bench/week-house.js', { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] }));
    const [house] = (await Promise.race([once(child, 'message'), failed(child)])) as [House];
    const measured = await measure(house);
    for (const [name, [ours, bare]] of Object.entries(measured)) {
      const [mine, theirs] = [quantile(ours, 0.95), quantile(bare, 0.95)];
      console.log(
        `run ${run + 1}: ${name}: 95 % within ${mine.toFixed(1)} ms; its rows in bare SQL ${theirs.toFixed(1)} ms`,
      );
      slowest.push(mine);
      ratios.push(mine / theirs);
    }
    const gone = once(child, 'exit');
    child.disconnect();
    await gone;
  }
} finally {
  await database.stop();
}
const p95 = Math.max(...slowest);
console.log(
  `week p95_ms=${p95.toFixed(1)} ratio=${median(ratios).toFixed(2)} ${p95 <= BUDGET_MS ? 'PASS' : 'FAIL'}`,
);
process.exitCode = p95 <= BUDGET_MS ? 0 : 1;
