import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { createConnection } from 'mysql2/promise';
import { CAPABILITY_ROLES, type Capability, ROLES, type Role } from '@heliphon/core/access/capabilities';
import type { EventView } from '@heliphon/contracts/events';
import type { SessionView } from '@heliphon/contracts/house';
import type { Problem } from '@heliphon/contracts/problem';
import type { SourceKey, SourceView } from '@heliphon/contracts/sources';
import { type HouseClient, PASSWORD, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

describe('signing in', () => {
  test('a session says who, where, and what one may do; its cookie is out of scripts’ reach', async () => {
    const answer = await server
      .anybody()
      .post<SessionView>('/api/session', { email: house.email, password: PASSWORD });
    expect(answer.body.roles).toEqual(['owner']);
    expect(answer.body.capabilities).toContain('events.edit');
    const cookie = answer.headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly; SameSite=Lax/);
    const shown = await server
      .anybody()
      .ask<SessionView>('GET', '/api/session', undefined, { cookie: cookie.split(';')[0]! });
    expect(shown.body.person.email).toBe(house.email);
    expect(JSON.stringify(answer.body)).not.toMatch(/hash|argon/i);
  });

  test('a wrong password and an unknown address get the same answer', async () => {
    const wrong = await server.anybody().post<Problem>('/api/session', { email: house.email, password: 'x' });
    const unknown = await server
      .anybody()
      .post<Problem>('/api/session', { email: 'no@body.example', password: 'x' });
    expect([wrong.status, unknown.status]).toEqual([401, 401]);
    expect(wrong.body).toEqual(unknown.body);
  });

  test('trying without end is slowed down, with the wait said', async () => {
    const email = `${randomUUID()}@house.example`;
    const tries = [];
    for (let count = 0; count < 11; count += 1)
      tries.push(await server.anybody().post<Problem>('/api/session', { email, password: 'x' }));
    expect(tries.at(-1)).toMatchObject({ status: 429, body: { code: 'too-many-tries' } });
    expect(Number(tries.at(-1)!.headers.get('retry-after'))).toBeGreaterThan(0);
  });

  test('a change that another website asks for in somebody’s browser is refused', async () => {
    const { headers } = await server
      .anybody()
      .post('/api/session', { email: house.email, password: PASSWORD });
    const cookie = headers.get('set-cookie')!.split(';')[0]!;
    const answer = await server
      .anybody()
      .post<Problem>('/api/sources', { name: 'X' }, { cookie, origin: 'https://evil.example' });
    expect(answer).toMatchObject({ status: 403, body: { code: 'other-origin' } });
  });
});

describe('rights', () => {
  test('nobody who is not signed in gets anything of a house', async () => {
    for (const path of [
      '/api/events',
      '/api/sources',
      '/api/destinations',
      '/api/recordings',
      '/api/session',
    ]) {
      expect((await server.anybody().get(path)).status).toBe(401);
    }
  });

  test('what a role may do is what the table says', async () => {
    const source = await house.source();
    const event = await house.event(600, 660);
    const routes: [Capability, (client: HouseClient) => Promise<{ status: number }>][] = [
      ['events.read', (c) => c.get('/api/events')],
      ['events.edit', (c) => c.post('/api/events', {})],
      ['events.move', (c) => c.post(`/api/events/${event.id}/end`, {})],
      ['sources.edit', (c) => c.post('/api/sources', {})],
      ['keys.read', (c) => c.get(`/api/sources/${source.id}/key`)],
      ['keys.renew', (c) => c.post(`/api/sources/${randomUUID()}/renew-key`)],
      ['destinations.edit', (c) => c.post('/api/destinations', {})],
      ['chat.moderate', (c) => c.post(`/api/events/${event.id}/chat`, {})],
    ];
    for (const role of ROLES) {
      const client = await server.member(house.houseId, role);
      for (const [capability, call] of routes) {
        const isAllowed = (CAPABILITY_ROLES[capability] as readonly Role[]).includes(role);
        expect([role, capability, (await call(client)).status === 403]).toEqual([
          role,
          capability,
          !isAllowed,
        ]);
      }
    }
  });

  test('another house’s ids are not found, in path and body alike', async () => {
    const other = await server.house();
    const [source, event] = [await house.source(), await house.event(600, 660)];
    const own = await other.event(600, 660);
    const attempts = [
      other.get(`/api/events/${event.id}`),
      other.patch(`/api/events/${event.id}`, event.version, { title: 'Mine' }),
      other.delete(`/api/events/${event.id}`),
      other.move(event, 'open-doors'),
      other.get(`/api/sources/${source.id}/key`),
      other.post(`/api/sources/${source.id}/renew-key`),
      other.get(`/api/events/${event.id}/chat`),
      other.patch(`/api/events/${own.id}`, own.version, { sourceId: source.id }),
    ];
    expect((await Promise.all(attempts)).map((answer) => answer.status)).toEqual(
      Array(attempts.length).fill(404),
    );
  });
});

describe('keys', () => {
  test('a key is shown to who may see it, sealed in the database, and renewed on the spot', async () => {
    const source = await house.source('Pier camera');
    const key = (await house.get<SourceKey>(`/api/sources/${source.id}/key`)).body;
    expect(key).toMatchObject({ address: 'rtmp://127.0.0.1:1935/in', user: null, password: null });
    expect(key.key).toMatch(/^[0-9a-z]{32}$/);
    const connection = await createConnection(server.databaseUrl);
    const [rows] = await connection.query('SELECT * FROM sources WHERE id = ?', [source.id]);
    await connection.end();
    expect(JSON.stringify(rows)).not.toContain(key.key);
    const node = await server.dialAsNode();
    const before = await until(
      () => node.desired?.sources.find((s) => s.sourceId === source.id)?.keySha256Hex,
      'the key’s hash',
    );
    await house.post(`/api/sources/${source.id}/renew-key`);
    await until(
      () => node.desired?.sources.find((s) => s.sourceId === source.id)?.keySha256Hex !== before,
      'the new hash',
    );
    expect(JSON.stringify(node.messages)).not.toContain(key.key);
    node.close();
  });

  test('with a name and password the address names the source', async () => {
    const source = (await house.post<SourceView>('/api/sources', { name: 'Box', hasPassword: true })).body;
    const key = (await house.get<SourceKey>(`/api/sources/${source.id}/key`)).body;
    expect(key.address).toBe(`rtmp://127.0.0.1:1935/in/${key.user}`);
    expect(key.password).toMatch(/^[0-9a-z]{12}$/);
  });

  test('a source that an event uses cannot be deleted', async () => {
    const source = await house.source('In use');
    await house.event(600, 660, source.id);
    expect(await house.delete(`/api/sources/${source.id}`)).toMatchObject({
      status: 409,
      body: { code: 'source-in-use' },
    });
  });

  test('a place’s address is taken apart and its key never comes back', async () => {
    const { body } = await house.post('/api/destinations', {
      name: 'Relay',
      address: 'rtmp://place.example/live/top-secret',
    });
    expect(body).toMatchObject({ host: 'place.example', port: 1935, application: 'live' });
    expect(JSON.stringify((await house.get('/api/destinations')).body)).not.toContain('top-secret');
    const spaces = await house.post<Problem>('/api/destinations', {
      name: 'Relay',
      address: 'rtmp://place.example/live/top secret',
    });
    expect(spaces.body).toMatchObject({ code: 'address-has-spaces', fields: [{ path: 'address' }] });
  });
});

test('at 10,000 events, the week and what is due are found by an index', async () => {
  const connection = await createConnection(server.databaseUrl);
  const event: EventView = await house.event(600, 660);
  const [columns] = await connection.query('SHOW COLUMNS FROM events');
  const names = (columns as { Field: string }[]).map(({ Field }) => Field);
  const later = (name: string): string => `${name} + INTERVAL seq HOUR`;
  const own: Record<string, string> = {
    id: 'UUID()',
    programme_id: 'UUID()',
    state: `IF(seq % 100 = 0, 'planned', 'kept')`,
    ...Object.fromEntries(
      ['starts_at', 'stops_at', 'doors_due_at', 'hard_stop_at'].map((name) => [name, later(name)]),
    ),
  };
  await connection.query(
    `INSERT INTO events (${names.join()}) SELECT ${names.map((name) => own[name] ?? name).join()}
      FROM events JOIN seq_1_to_10000 WHERE id = ?`,
    [event.id],
  );
  await connection.query('ANALYZE TABLE events');
  const keyOf = async (where: string): Promise<string> => {
    const [rows] = await connection.query(`EXPLAIN SELECT * FROM events WHERE ${where}`);
    return (rows as { key: string }[])[0]!.key;
  };
  expect(
    await keyOf(`house_id = '${house.houseId}' AND starts_at BETWEEN NOW() AND NOW() + INTERVAL 7 DAY`),
  ).toBe('events_week');
  expect(await keyOf(`state IN ('planned','doors','air') AND doors_due_at <= NOW()`)).toBe('events_due');
  await connection.end();
});
