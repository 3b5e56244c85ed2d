import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { DiscoveryService, MetadataScanner } from '@nestjs/core';
import { CAPABILITY_ROLES, type Capability, ROLES, type Role } from '@heliphon/core/access/capabilities';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { SourceView } from '@heliphon/contracts/sources';
import { routesOf } from '../src/platform/routes.js';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

const routes = () => routesOf(server.app.get(DiscoveryService), server.app.get(MetadataScanner));

describe('every route', () => {
  test('asks every role for what the table says, and lets nobody else in', async () => {
    const roles: [Role | 'nobody', { ask: HouseClient['ask'] }][] = [['nobody', server.anybody()]];
    for (const role of ROLES) roles.push([role, await server.member(house.houseId, role)]);
    for (const { method, path, need } of routes()) {
      if (need === 'public' || path === '/api/session' || path === '/api/house') continue;
      const address = path.replace(/:\w+/g, randomUUID());
      for (const [role, client] of roles) {
        const { status } = await client.ask(method, address, method === 'GET' ? undefined : {});
        const isBarred =
          role === 'nobody'
            ? 401
            : need === 'own-session' ||
                !(CAPABILITY_ROLES[need as Capability] as readonly Role[]).includes(role)
              ? 403
              : null;
        const what = [method, path, role];
        if (isBarred) expect([...what, status]).toEqual([...what, isBarred]);
        else expect([...what, [401, 403].includes(status)]).toEqual([...what, false]);
      }
    }
  }, 120_000);

  test('knows nothing of another house’s things', async () => {
    const other = await server.house();
    const [event, source] = [await house.event(600, 660), await house.source()];
    const { body: place } = await house.post<DestinationView>('/api/destinations', {
      name: 'Relay',
      address: 'rtmp://a.example/b/c',
    });
    const known: Record<string, string> = { events: event.id, sources: source.id, destinations: place.id };
    for (const { method, path } of routes()) {
      const [, , room] = path.split('/');
      const id = known[room!];
      if (!id || !path.includes(':id')) continue;
      const address = path.replace(':id', id).replace(/:\w+/g, randomUUID());
      const body = {
        title: 'X',
        name: 'X',
        commandId: randomUUID(),
        fromState: 'planned',
        paused: true,
        text: 'x',
        messageId: randomUUID(),
      };
      const { status } = await other.ask(method, address, method === 'GET' ? undefined : body, {
        'if-match': '1',
      });
      expect([method, path, [404, 422].includes(status)]).toEqual([method, path, true]);
    }
    expect((await house.current(event)).title).toBe(event.title);
  });

  test('is described, with the contract of its body and the problem it may answer with', async () => {
    const { body } = await server.anybody().get<OpenApi>('/api/openapi.json');
    expect(body.openapi).toBe('3.1.0');
    for (const { method, path } of routes())
      expect([path, body.paths[path.replace(/:(\w+)/g, '{$1}')]?.[method.toLowerCase()]]).not.toContain(
        undefined,
      );
    const plan = body.paths['/api/events']!.post!.requestBody!.content['application/json'].schema;
    expect(plan).toMatchObject({
      type: 'object',
      required: expect.arrayContaining(['title', 'startsAtLocal']),
    });
  });
});

interface OpenApi {
  readonly openapi: string;
  readonly paths: Record<
    string,
    Record<string, { requestBody?: { content: { 'application/json': { schema: object } } } }>
  >;
}

describe('lists', () => {
  test('are paged by a cursor that loses nothing, even where names are equal', async () => {
    const own = await server.house();
    for (let count = 0; count < 7; count += 1) await own.source('Same name');
    const seen: string[] = [];
    for (let after = ''; ;) {
      const { body } = await own.get<Page<SourceView>>(`/api/sources?limit=3${after}`);
      seen.push(...body.items.map(({ id }) => id));
      if (!body.next) break;
      after = `&after=${body.next}`;
    }
    expect(new Set(seen).size).toBe(7);
    expect((await own.get<Problem>('/api/sources?after=nonsense')).body.code).toBe('not-a-cursor');
  });
});

test('figures for anyone who watches over the installation count requests by route, not by address', async () => {
  const event = await house.event(600, 660);
  await house.get(`/api/events/${event.id}`);
  const { body } = await server.anybody().get<string>('/metrics');
  expect(body).toContain(
    'heliphon_http_request_seconds_count{method="GET",route="/api/events/:id",status="200"}',
  );
  expect(body).not.toContain(event.id);
});
