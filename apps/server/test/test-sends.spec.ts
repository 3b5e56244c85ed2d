import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { Problem } from '@heliphon/contracts/problem';
import type { TestSendView } from '@heliphon/contracts/test-sends';
import { type HouseClient, type NodeClient, QUIET, until } from './driver.js';
import { PlatformHouse } from './platform-house.js';

let platforms: PlatformHouse;
let house: HouseClient;
let node: NodeClient;
let journalSeq = 0;
beforeAll(async () => {
  platforms = await PlatformHouse.start();
  node = await platforms.server.dialAsNode();
});
beforeEach(async () => {
  await platforms.pass(0);
  house = await platforms.server.house('producer');
});
afterAll(async () => {
  node.close();
  await platforms.stop();
});

/** A rehearsal that is on, of an event that goes to a place. */
async function rehearsalTo(placeId: string): Promise<EventView> {
  const source = await house.source();
  const event = await house.event(600, 660, source.id);
  const { version } = await house.current(event);
  await house.patch(`/api/events/${event.id}`, version, { destinationIds: [placeId] });
  const { body } = await house.post<EventView>(`/api/events/${event.id}/rehearsals`);
  const { programmeId } = body;
  const atMs = Date.now();
  const life = { state: 'air', doorsAtMs: atMs - 1000, airAtMs: atMs } as const;
  node.observe((journalSeq += 1), { kind: 'programme-moved', programmeId, life, atMs });
  await until(async () => (await house.current(body)).state === 'air', 'the rehearsal');
  return body;
}
const begin = (rehearsal: EventView, destinationId: string, by = house) =>
  by.post<Problem>(`/api/events/${rehearsal.id}/test-sends`, { destinationId });
const results = async (rehearsal: EventView) =>
  (await house.get<{ items: TestSendView[] }>(`/api/events/${rehearsal.id}/test-sends`)).body.items;
const says = ({ programmeId }: EventView, destinationId: string, state: DestinationState): void =>
  node.report({
    programmes: [
      {
        ...QUIET,
        programmeId,
        destinations: [{ destinationId, state, rateBps: 1, queuedBytes: 0, rendition: null }],
      },
    ],
  });
const there = () => platforms.world.platforms.skerry.postings.all;

describe('trying out an outlet in a rehearsal', () => {
  test('posts it for its owner alone, sends for ten seconds, says that all is well, and leaves nothing there', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const rehearsal = await rehearsalTo(placeId);
    expect((await begin(rehearsal, placeId)).status).toBe(204);
    const posting = await until(() => there().find(({ title }) => title === rehearsal.title), 'the posting');
    expect(posting.audience).toBe('only-me');
    await until(
      () =>
        node.desired?.programmes.find(({ programmeId }) => programmeId === rehearsal.programmeId)
          ?.destinations.length,
      'its address at the node',
    );
    platforms.world.platforms.skerry.postings.start(posting.id, Date.now());
    expect(await results(rehearsal)).toEqual([{ destinationId: placeId, result: null }]);
    says(rehearsal, placeId, { state: 'going-out', sinceMs: Date.now() - 11_000 });
    await until(async () => (await results(rehearsal))[0]?.result === 'taken', 'the result');
    await until(() => !there().some(({ id }) => id === posting.id), 'it to be taken down');
    expect((await house.current(rehearsal)).destinationIds).toEqual([]);
  });

  test('says what is in the way: at the platform, or on the way there; and it can be tried again', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'friends');
    const rehearsal = await rehearsalTo(placeId);
    await begin(rehearsal, placeId);
    await until(async () => (await results(rehearsal))[0]?.result === 'not-let-in', 'the reason');
    platforms.world.platforms.skerry.directory.allow('friends', true);
    await begin(rehearsal, placeId);
    await until(() => there().find(({ title }) => title === rehearsal.title), 'the posting');
    const nextTryAtMs = Date.now() + 2000;
    says(rehearsal, placeId, { state: 'troubled', reason: 'refused', said: null, attempt: 1, nextTryAtMs });
    await until(async () => (await results(rehearsal))[0]?.result === 'refused', 'the other reason');
    platforms.world.platforms.skerry.directory.allow('friends', false);
  });

  test('is refused at a place with an address of its own where another event goes out just now', async () => {
    const wish = { name: 'Relay', address: 'rtmp://a.example/b/c' };
    const { id } = (await house.post<DestinationView>('/api/destinations', wish)).body;
    const other = await house.event(500, 560);
    await house.patch(`/api/events/${other.id}`, other.version, { title: 'Vespers', destinationIds: [id] });
    const doors = (await house.move(await house.current(other), 'open-doors')).body;
    await house.move(doors, 'go-on-air');
    const rehearsal = await rehearsalTo(id);
    expect((await begin(rehearsal, id)).body).toMatchObject({
      status: 409,
      code: 'place-on-air',
      params: { name: 'Relay', title: 'Vespers' },
    });
  });

  test('is for a rehearsal that is on, the places of its event, and those who run it', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const rehearsal = await rehearsalTo(placeId);
    const moderator = await platforms.server.member(house.houseId, 'moderator');
    const stranger = await platforms.server.house('producer');
    expect((await begin(rehearsal, placeId, moderator)).status).toBe(403);
    expect((await begin(rehearsal, placeId, stranger)).status).toBe(404);
    expect((await begin(rehearsal, rehearsal.id)).status).toBe(404);
    expect((await begin(await house.event(600, 660), placeId)).status).toBe(404);
    await begin(rehearsal, placeId);
    await house.move(await house.current(rehearsal), 'end');
    await until(async () => (await results(rehearsal))[0]?.result === 'broken-off', 'it to be broken off');
    expect((await begin(rehearsal, placeId)).body.code).toBe('moved-meanwhile');
  });
});
