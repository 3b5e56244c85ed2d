import { type ChildProcess, fork } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { chmod } from 'node:fs/promises';
import { startMariaDb } from '../apps/keeper/src/mariadb.js';
import { ownFolder, tied } from './support/children.js';
import { median, option, pause, quantile, untilQuiet } from './support/rig.js';

// From a person's "send" to five thousand readers of one room: over HTTP into the database and out to the public
// pages, against a room that only hands messages on (the yardstick), with the same readers at the same pace.

const READERS = 5000;
const READER_PROCESSES = 2;
const EVERY_MS = 500;
const BUDGET_MS = 250;
/** Each may say something every six seconds. */
const SPEAKERS = 20;

type Send = (text: string) => Promise<unknown>;

async function firstMessage<T>(child: ChildProcess): Promise<T> {
  const [message] = (await once(child, 'message')) as [T];
  return message;
}

async function end(child: ChildProcess): Promise<void> {
  const gone = once(child, 'exit');
  child.disconnect();
  await gone;
}

const post = async (address: string, body: string, headers: Record<string, string>): Promise<Response> => {
  const response = await fetch(address, { method: 'POST', body, headers });
  if (!response.ok) throw new Error(`${response.status} ${await response.text()}`);
  return response;
};

/** How late each reader got each message, in ms; every reader has to have got every message. */
async function delays(address: string, send: Send, seconds: number, slug: string[]): Promise<number[]> {
  const readers = Array.from({ length: READER_PROCESSES }, () =>
    tied(fork('dist/bench/readers.js', [address, String(READERS / READER_PROCESSES), ...slug])),
  );
  await Promise.all(readers.map((reader) => firstMessage(reader)));
  await untilQuiet();
  const count = Math.floor((seconds * 1000) / EVERY_MS);
  for (let sent = 0; sent < count; sent += 1) {
    const pausing = pause(EVERY_MS);
    await send(`sent at ${(performance.timeOrigin + performance.now()).toFixed(3)}`);
    await pausing;
  }
  await pause(2000);
  const all = await Promise.all(
    readers.map((reader) => {
      const answer = firstMessage<number[]>(reader);
      reader.send('how late');
      return answer;
    }),
  );
  const got = all.flat();
  if (got.length !== count * READERS)
    throw new Error(`${got.length} of ${count * READERS} messages were read`);
  return got;
}

async function measureOurs(seconds: number): Promise<number[]> {
  // Its log of every request is not read.
  const house = tied(fork('dist/bench/chat-house.js', { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] }));
  const { url, slug } = await firstMessage<{ url: string; slug: string }>(house);
  const json = { 'content-type': 'application/json' };
  const chat = `${url}/api/public/events/${slug}/chat`;
  const tokens = await Promise.all(
    Array.from({ length: SPEAKERS }, async (_, index) => {
      const joined = await post(
        `${chat}/join`,
        JSON.stringify({ name: `Voice ${index}`, acceptsRules: true }),
        json,
      );
      return ((await joined.json()) as { token: string }).token;
    }),
  );
  let turn = 0;
  const say: Send = (text) =>
    post(chat, JSON.stringify({ text, messageId: randomUUID() }), {
      ...json,
      authorization: `Bearer ${tokens[turn++ % SPEAKERS]}`,
    });
  const socket = `${url.replace('http', 'ws')}/socket.io/?EIO=4&transport=websocket`;
  const result = await delays(socket, say, seconds, [slug]);
  await end(house);
  return result;
}

async function measureBare(seconds: number): Promise<number[]> {
  const room = tied(fork('dist/bench/bare-room.js'));
  const { port } = await firstMessage<{ port: number }>(room);
  const say: Send = (text) => post(`http://127.0.0.1:${port}`, text, {});
  const result = await delays(`ws://127.0.0.1:${port}`, say, seconds, []);
  await end(room);
  return result;
}

const seconds = option('seconds', 30);
const folder = ownFolder();
await chmod(folder, 0o755); // the database is another user
const database = await startMariaDb({ folder, forTests: false });
process.env.HELIPHON_TEST_DATABASE_URL = database.url;
const ours: number[] = [];
const ratios: number[] = [];
try {
  for (let run = 0; run < option('runs', 3); run += 1) {
    const mine = quantile(await measureOurs(seconds), 0.95);
    const theirs = quantile(await measureBare(seconds), 0.95);
    console.log(
      `run ${run + 1}: 95 % of messages within ${mine.toFixed(0)} ms; bare room ${theirs.toFixed(0)} ms`,
    );
    ours.push(mine);
    ratios.push(mine / theirs);
  }
} finally {
  await database.stop();
}
const p95Ms = median(ours);
const passes = p95Ms <= BUDGET_MS;
console.log(`chat p95_ms=${p95Ms.toFixed(0)} ratio=${median(ratios).toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`);
process.exit(passes ? 0 : 1);
