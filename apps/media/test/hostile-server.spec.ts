import { createHash, randomInt, randomUUID } from 'node:crypto';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { pino } from 'pino';
import { ControlLink } from '../src/control/control-link.js';
import { Journal } from '../src/control/journal.js';
import { until } from './driver.js';

const GUID = '258EAFA5-E914-47DA-95CA-C5AB0DC85B11'; // RFC 6455, 1.3

/** What a server may do to a node that dials it. */
const HABITS = [
  'freeze',
  'half an answer',
  'garbage',
  'no',
  'slam',
  'upgrade, then garbage',
  'upgrade, then freeze',
] as const;
type Habit = (typeof HABITS)[number];

let server: Server;
let folder: string;
let habit: Habit = 'freeze';
let dialled = 0;
const sockets = new Set<Socket>();

function misbehave(socket: Socket, request: string): void {
  const [, key = ''] = /sec-websocket-key: (\S+)/i.exec(request) ?? [];
  const accept = createHash('sha1')
    .update(key + GUID)
    .digest('base64');
  const upgrade = `HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Accept: ${accept}\r\n\r\n`;
  const text = (words: string): Buffer =>
    Buffer.concat([Buffer.from([0x81, words.length]), Buffer.from(words)]);
  switch (habit) {
    case 'freeze':
      return;
    case 'half an answer':
      socket.write(upgrade.slice(0, randomInt(5, upgrade.length - 5)));
      return;
    case 'garbage':
      socket.write(randomUUID().repeat(20));
      return;
    case 'no':
      socket.end('HTTP/1.1 503 Service Unavailable\r\nContent-Length: 0\r\n\r\n');
      return;
    case 'slam':
      socket.resetAndDestroy();
      return;
    case 'upgrade, then garbage':
      socket.write(upgrade);
      for (const words of ['{', 'null', '[]', '{"type":"desired"}', '{"type":"stored","journalSeq":"x"}'])
        socket.write(text(words));
      socket.write(Buffer.from([0xff, 0xff, 0xff]));
      return;
    case 'upgrade, then freeze':
      socket.write(upgrade);
      socket.pause();
  }
}

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'heliphon-link-'));
  dialled = 0;
  server = createServer((socket) => {
    dialled += 1;
    sockets.add(socket);
    socket.on('error', () => undefined).on('close', () => sockets.delete(socket));
    socket.once('data', (bytes) => misbehave(socket, String(bytes)));
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterEach(async () => {
  for (const socket of sockets) socket.destroy();
  await new Promise((resolve) => server.close(resolve));
  await rm(folder, { recursive: true });
});

describe('a node whose server has lost its wits', () => {
  test.each(HABITS)(
    'does not end, and dials again: %s',
    async (chosen) => {
      habit = chosen;
      const { port } = server.address() as AddressInfo;
      const faults: unknown[] = [];
      const onFault = (error: unknown): void => void faults.push(error);
      process.on('uncaughtException', onFault).on('unhandledRejection', onFault);
      const link = new ControlLink(
        { serverUrl: `http://127.0.0.1:${port}`, nodeId: 'n1', nodeSecret: 'x'.repeat(40) },
        await Journal.open(folder),
        pino({ level: 'silent' }),
        () => undefined,
        () => undefined,
      );
      link.dial();
      await link.firstWord(); // it keeps nothing waiting that was on air
      await until(() => dialled >= 2, 'the second call');
      link.close();
      process.off('uncaughtException', onFault).off('unhandledRejection', onFault);
      expect(faults).toEqual([]);
    },
    45_000,
  );
});
