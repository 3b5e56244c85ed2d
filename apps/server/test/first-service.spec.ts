import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { FirstServiceView } from '@heliphon/contracts/first-service';
import type { HouseView } from '@heliphon/contracts/house';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
});
beforeEach(async () => {
  house = await server.house();
});
afterAll(() => server.stop());

const asked = async (): Promise<FirstServiceView> =>
  (await house.get<FirstServiceView>('/api/house/first-service')).body;
const visit = (path: string, referer?: string) =>
  server.anybody().ask('GET', path, undefined, referer ? { referer } : {});

describe('the first service', () => {
  test('of a new house has everything still to do', async () => {
    expect(await asked()).toEqual({
      done: [],
      silentSource: null,
      slug: null,
      siteHost: null,
      invited: null,
    });
  });

  test('is for owners alone, and tells nothing of another house', async () => {
    for (const role of ['producer', 'operator', 'moderator', 'treasurer'] as const) {
      const member = await server.member(house.houseId, role);
      expect((await member.get('/api/house/first-service')).status).toBe(403);
    }
    const other = await server.house('owner', 'Another house');
    await other.event(600, 660);
    expect((await asked()).slug).toBeNull();
  });

  test('knows by itself what was done, step by step', async () => {
    const { version } = (await house.get<HouseView>('/api/house')).body;
    await house.put('/api/looks/house', version, { own: { accent: '#123456' } });
    expect((await asked()).done).toEqual(['look']);

    const source = await house.source('Chapel desk');
    expect(await asked()).toMatchObject({ done: ['look'], silentSource: 'Chapel desk' });
    const node = await server.dialAsNode();
    const came = { protocol: 'rtmp', remoteAddress: '::1', atMs: Date.now() } as const;
    node.observe(1, { kind: 'source-came', sourceId: source.id, ...came });
    await until(async () => (await asked()).done.includes('source'), 'the picture');

    const event = await house.event(600, 660);
    expect(await asked()).toMatchObject({ done: ['look', 'source', 'event'], slug: event.slug });

    const wish = { name: 'Odo Fenwright', email: 'odo@first.example', roles: ['operator'] };
    expect((await house.post('/api/invitations', wish)).status).toBe(204);
    expect((await asked()).invited).toBe('Odo Fenwright');
    await server.member(house.houseId, 'operator');
    expect((await asked()).done).toContain('help');
  });

  test('notices the player on a website, and nothing that comes from its own pages or from nowhere', async () => {
    const event = await house.event(600, 660);
    await visit(`/embed/${event.slug}`);
    await visit(`/embed/${event.slug}`, `${server.url}/series`);
    await visit(`/embed/${event.slug}`, 'no address');
    expect((await asked()).done).toEqual(['event']);
    await visit(`/embed/${event.slug}`, 'https://parish.example/live');
    await until(async () => (await asked()).done.includes('website'), 'the website');
    await visit(`/watch/${event.slug}`, 'https://elsewhere.example/');
    expect((await asked()).siteHost).toBe('parish.example');
  });
});
