import { type AddressInfo, createServer, type Server } from 'node:net';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { createConnection, createPool } from 'mysql2/promise';
import { isDatabaseAway } from '../src/platform/database-faults.js';

/** Stands where a database stood, takes connections, and says nothing, as one that was stopped does. */
let silence: Server;
beforeAll(async () => {
  silence = createServer();
  await new Promise<void>((resolve) => silence.listen(0, '127.0.0.1', resolve));
});
afterAll(() => {
  silence.close();
});

const url = (): string => process.env.HELIPHON_TEST_DATABASE_URL!;
const faultOf = (work: Promise<unknown>): Promise<unknown> =>
  work.then(
    () => null,
    (fault: unknown) => fault,
  );

test('a database that stands still is away: a new connection to it never comes about', async () => {
  const { port } = silence.address() as AddressInfo;
  const fault = await faultOf(createConnection({ host: '127.0.0.1', port, connectTimeout: 100 }));
  expect(fault).toMatchObject({ code: 'ETIMEDOUT' });
  expect(isDatabaseAway(fault)).toBe(true);
});

test('a database that is not there is away', async () => {
  const gone = createServer();
  await new Promise<void>((resolve) => gone.listen(0, '127.0.0.1', resolve));
  const { port } = gone.address() as AddressInfo;
  await new Promise((resolve) => gone.close(resolve));
  expect(isDatabaseAway(await faultOf(createConnection({ host: '127.0.0.1', port })))).toBe(true);
});

test('a connection that was lost within a transaction is away, whatever is asked of it afterwards', async () => {
  const [own, other] = [createPool(url()), createPool(url())];
  const connection = await own.getConnection();
  const [rows] = await connection.query('SELECT CONNECTION_ID() AS id');
  await other.query(`KILL ${(rows as { id: number }[])[0]!.id}`);
  const lost = await faultOf(connection.query('SELECT 1'));
  const later = await faultOf(connection.query('SELECT 1'));
  expect([lost, later].map(isDatabaseAway)).toEqual([true, true]);
  connection.destroy();
  await Promise.all([own.end(), other.end()]);
});

test('a query that is wrong is a fault of ours, and the database is there', async () => {
  const connection = await createConnection(url());
  expect(isDatabaseAway(await faultOf(connection.query('SELECT nonsense')))).toBe(false);
  await connection.end();
});
