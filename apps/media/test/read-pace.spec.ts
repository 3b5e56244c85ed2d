import { once } from 'node:events';
import { type AddressInfo, connect, createServer, type Socket } from 'node:net';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { ReadPace } from '../src/ingest/read-pace.js';
import { until } from './driver.js';

const pace = new ReadPace();
let server: ReturnType<typeof createServer>;
let sender: Socket;
let receiver: Socket;
let isPaced: boolean;
let taken: Buffer[];

beforeEach(async () => {
  [isPaced, taken] = [true, []];
  server = createServer((socket) => {
    receiver = socket;
    pace.follow(
      socket,
      () => isPaced,
      (bytes) => taken.push(Buffer.from(bytes)),
    );
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  sender = connect((server.address() as AddressInfo).port, '127.0.0.1');
  sender.setNoDelay(true);
  await once(sender, 'connect');
});
afterEach(() => {
  sender.destroy();
  receiver.destroy();
  server.close();
});

const written = (bytes: Uint8Array | string): Promise<void> =>
  new Promise((resolve) => sender.write(bytes, () => resolve()));
const all = (): Buffer => Buffer.concat(taken);

test('packets that come one by one are taken together, in their order', async () => {
  for (let nth = 0; nth < 50; nth += 1) await written(`packet ${nth} `);
  await until(() => all().includes('packet 49 '), 'all of them');
  expect(all().toString()).toBe(Array.from({ length: 50 }, (_, nth) => `packet ${nth} `).join(''));
  expect(taken.length).toBeLessThan(25);
});

test('before somebody is let in, every word is heard at once', async () => {
  isPaced = false;
  await written('hello');
  await until(() => taken.length === 1, 'the first word');
  await written('again');
  await until(() => taken.length === 2, 'the second');
});

test('more than a buffer holds is not held up by the beat', async () => {
  const bytes = Buffer.alloc(60_000_000, 'picture ');
  await written(bytes);
  // At a buffer a beat this would take more than half a minute, and is given up before.
  await until(
    () => taken.reduce((sum, piece) => sum + piece.byteLength, 0) === bytes.byteLength,
    'everything',
  );
  expect(all().equals(bytes)).toBe(true);
});

test('what came just before the end is still taken, and then the end is told', async () => {
  const ended = once(receiver, 'end');
  sender.end('the last of it');
  await ended;
  expect(all().toString()).toBe('the last of it');
});
