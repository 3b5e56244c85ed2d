import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { PlaceSetView } from '@heliphon/contracts/place-sets';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
});
beforeEach(async () => {
  house = await server.house('producer');
});
afterAll(() => server.stop());

const SETS = '/api/place-sets';
const place = async (name: string, of = house): Promise<DestinationView> =>
  (await of.post<DestinationView>('/api/destinations', { name, address: 'rtmp://a.example/b/c' })).body;
const sets = async (of = house) => (await of.get<Page<PlaceSetView>>(SETS)).body.items;
const undoLast = async (id: string): Promise<void> => {
  const last = (await server.happenings(id)).at(-1)!;
  await house.post(`/api/happenings/${last.id}/undo`);
};

describe('a set of places', () => {
  test('is kept under a name, renamed, deleted, and each of it taken back', async () => {
    const [one, other] = [await place('Relay'), await place('Other relay')];
    const wish = { name: 'Every Sunday', destinationIds: [one.id, other.id] };
    const { body: set } = await house.post<PlaceSetView>(SETS, wish);
    expect(await sets()).toEqual([{ id: set.id, version: 1, ...wish }]);
    await house.patch(`${SETS}/${set.id}`, 1, { name: 'Sundays' });
    expect((await sets())[0]!.name).toBe('Sundays');
    await undoLast(set.id);
    expect((await sets())[0]!.name).toBe('Every Sunday');
    await house.delete(`${SETS}/${set.id}`);
    expect(await sets()).toEqual([]);
    await undoLast(set.id);
    expect((await sets())[0]).toMatchObject(wish);
  });

  test('has only places that still are', async () => {
    const [one, other] = [await place('Relay'), await place('Other relay')];
    await house.post(SETS, { name: 'Both', destinationIds: [one.id, other.id] });
    await house.delete(`/api/destinations/${one.id}`);
    expect((await sets())[0]!.destinationIds).toEqual([other.id]);
  });

  test('that was deleted does not come back under a name that another has by now', async () => {
    const { id } = await place('Relay');
    const wish = { name: 'Sundays', destinationIds: [id] };
    const { body: set } = await house.post<PlaceSetView>(SETS, wish);
    await house.delete(`${SETS}/${set.id}`);
    await house.post(SETS, wish);
    const last = (await server.happenings(set.id)).at(-1)!;
    const undone = await house.post<Problem>(`/api/happenings/${last.id}/undo`);
    expect(undone.body).toMatchObject({ status: 409, code: 'changed-since' });
  });

  test('is refused without places, with those of others, or with a name that another has', async () => {
    const own = await place('Relay');
    const stranger = await server.house('producer');
    const theirs = await place('Theirs', stranger);
    const add = (name: string, destinationIds: string[]) =>
      house.post<Problem>(SETS, { name, destinationIds });
    expect((await add('Nothing', [])).status).toBe(422);
    expect((await add('Theirs', [theirs.id])).body.fields).toEqual([
      { path: 'destinationIds', message: 'unknown-place' },
    ]);
    await add('Sundays', [own.id]);
    expect((await add('sundays', [own.id])).body.fields).toEqual([{ path: 'name', message: 'name-taken' }]);
    expect((await add('Sündays', [own.id])).body.fields).toEqual([{ path: 'name', message: 'name-taken' }]);
    const [set] = await sets();
    expect(await sets(stranger)).toEqual([]);
    expect((await stranger.patch(`${SETS}/${set!.id}`, 1, { name: 'X' })).status).toBe(404);
    expect((await house.patch<Problem>(`${SETS}/${set!.id}`, 7, { name: 'X' })).status).toBe(412);
  });
});
