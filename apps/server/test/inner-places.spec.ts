import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Problem } from '@heliphon/contracts/problem';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start({ innerPlaces: false });
  house = await server.house('producer');
});
afterAll(() => server.stop());

const add = (host: string) =>
  house.post<Problem>('/api/destinations', { name: 'Relay', address: `rtmp://${host}/live/key` });

test.each([
  '127.0.0.1',
  '10.0.0.7:1936',
  '192.168.1.20',
  '[::1]',
  '[fd00::7]',
  'localhost',
  'LocalHost:1935',
])('a place at %s, in our own network, is refused where the installation does not allow it', async (host) => {
  expect((await add(host)).body).toMatchObject({
    status: 422,
    fields: [{ path: 'address', message: 'address-inner' }],
  });
});

test.each(['93.184.216.34', 'relay.example', 'localhost.example'])('a place at %s is taken', async (host) => {
  expect((await add(host)).status).toBe(201);
});
