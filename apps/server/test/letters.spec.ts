import { createServer } from 'node:net';
import { once } from 'node:events';
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { createConnection, type RowDataPacket } from 'mysql2/promise';
import { MailBox } from '../../standins/src/mail/mail-box.js';
import { freePort } from '../../keeper/src/ports.js';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let owner: HouseClient;
let port: number;
beforeAll(async () => {
  port = await freePort();
  server = await ServerDriver.start({ smtpUrl: `smtp://127.0.0.1:${port}` });
  owner = await server.house();
});
afterAll(() => server.stop());

interface LetterRow {
  readonly attempts: number;
  readonly nextTryAt: Date | null;
  readonly sentAt: Date | null;
  readonly lastFault: string | null;
  readonly sealedText: string;
}

async function letterTo(recipient: string): Promise<LetterRow | undefined> {
  const connection = await createConnection({ uri: server.databaseUrl, timezone: 'Z' });
  const [rows] = await connection.query<RowDataPacket[]>(
    `SELECT attempts, next_try_at nextTryAt, sent_at sentAt, last_fault lastFault, sealed_text sealedText
     FROM letters WHERE recipient = ?`,
    [recipient],
  );
  await connection.end();
  return rows[0] as LetterRow | undefined;
}

async function invite(): Promise<string> {
  const email = `${randomUUID()}@mill.example`;
  await owner.post('/api/invitations', { email, name: 'Odo', roles: ['operator'] });
  return email;
}

/** A mail server that says no to everybody, and to which try. */
async function listenAndRefuse(): Promise<() => Promise<unknown>> {
  let tries = 0;
  const refusing = createServer((socket) => {
    socket.on('error', () => socket.destroy());
    socket.end(`554 We take nothing from you, try ${(tries += 1)}\r\n`);
  }).listen(port, '127.0.0.1');
  await once(refusing, 'listening');
  return () => new Promise((resolve) => refusing.close(resolve));
}

test('a letter waits while no mail server answers, and goes when one does, once', async () => {
  const email = await invite();
  const tried = await until(async () => {
    const letter = await letterTo(email);
    return letter?.lastFault ? letter : null;
  }, 'the first try');
  expect(tried.lastFault).toContain('ECONNREFUSED');
  expect(tried.sentAt).toBeNull();

  const mail = new MailBox();
  await mail.listen(port, '127.0.0.1');
  await server.setClock(60_000);
  const sent = await until(async () => {
    const letter = await letterTo(email);
    return letter?.sentAt && letter;
  }, 'it to be sent');
  // What it said is gone from the database with it.
  expect(sent).toMatchObject({ nextTryAt: null, lastFault: null, sealedText: '' });
  expect(mail.letters.filter(({ to }) => to === email)).toHaveLength(1);
  await mail.close();
  await server.setClock(0);
});

test('the pauses between tries grow, what the mail server said is kept, and after the last it is left', async () => {
  const stopRefusing = await listenAndRefuse();
  const email = await invite();
  const pausesMs: number[] = [];
  let offsetMs = 0;
  for (let attempt = 1; attempt <= 7; attempt += 1) {
    const letter = await until(async () => {
      const found = await letterTo(email);
      return found?.lastFault?.includes(`We take nothing from you, try ${attempt}`) && found;
    }, `try ${attempt}`);
    if (!letter.nextTryAt) break;
    const waitMs = letter.nextTryAt.getTime() - (Date.now() + offsetMs);
    pausesMs.push(waitMs);
    offsetMs += waitMs + 1000;
    await server.setClock(offsetMs);
  }
  expect(pausesMs).toHaveLength(6);
  for (let nth = 1; nth < 6; nth += 1) expect(pausesMs[nth]!).toBeGreaterThan(pausesMs[nth - 1]!);
  expect(await letterTo(email)).toMatchObject({ attempts: 7, nextTryAt: null, sentAt: null });
  await stopRefusing();
  await server.setClock(0);
});

test('two servers on one database send each letter once', async () => {
  const mail = new MailBox();
  await mail.listen(port, '127.0.0.1');
  const second = await ServerDriver.start({
    smtpUrl: `smtp://127.0.0.1:${port}`,
    databaseUrl: server.databaseUrl,
    secretFile: `${server.folder}/secret.key`,
  });
  const emails = await Promise.all(Array.from({ length: 12 }, invite));
  await until(() => emails.every((email) => mail.letters.some(({ to }) => to === email)), 'all of them');
  await until(async () => {
    const rows = await Promise.all(emails.map(letterTo));
    return rows.every((row) => row?.sentAt);
  }, 'all of them to be marked');
  expect(mail.letters.map(({ to }) => to).sort()).toEqual([...emails].sort());
  await second.stop();
  await mail.close();
});
