import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { AccountUses, AccountView, Unlink } from '@heliphon/contracts/accounts';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { HouseClient } from './driver.js';
import { eventAt, PlatformHouse, stands } from './platform-house.js';

let platforms: PlatformHouse;
let house: HouseClient;
beforeAll(async () => {
  platforms = await PlatformHouse.start();
});
beforeEach(async () => {
  house = await platforms.server.house('producer');
});
afterAll(() => platforms.stop());

const there = (title: string) =>
  platforms.world.platforms.skerry.postings.all.find((posting) => posting.title === title);
const unlink = (id: string, postings: Unlink['postings']) =>
  house.post<Problem>(`/api/accounts/${id}/unlink`, { postings });
const accounts = async () => (await house.get<Page<AccountView>>('/api/accounts')).body.items;

async function posted(placeId: string, title: string, fromMinutes?: number): Promise<EventView> {
  const event = await eventAt(house, placeId, title, fromMinutes);
  await stands(house, event, 'planned');
  return event;
}

describe('unlinking an account', () => {
  test('says what would be touched; its events go there no longer, and their postings are taken down', async () => {
    const { placeId, accountId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await posted(placeId, 'Taken down');
    const series = await house.series({ title: 'Every week', destinationIds: [placeId] });
    const { body } = await house.get<AccountUses>(`/api/accounts/${accountId}/uses`);
    expect(body.events).toContainEqual({ id: event.id, title: 'Taken down', startsAtMs: event.startsAtMs });
    expect(body.series).toEqual([{ id: series.id, title: 'Every week' }]);
    expect(body.postingCount).toBeGreaterThan(0);
    expect((await unlink(accountId, 'take-down')).status).toBe(204);
    expect(there('Taken down')).toBeUndefined();
    expect(await accounts()).toEqual([]);
    expect((await house.current(event)).destinationIds).toEqual([]);
    const kinds = (await platforms.server.happenings(event.id)).map(({ kind }) => kind);
    expect(kinds).toContain('place-unlinked');
  });

  test('can leave the postings where they are', async () => {
    const { placeId, accountId } = await platforms.placeAt(house, 'skerry', 'quay');
    await posted(placeId, 'Left there');
    expect((await unlink(accountId, 'leave')).status).toBe(204);
    expect(there('Left there')).toBeDefined();
  });

  test('is refused while an event is on with it', async () => {
    const { placeId, accountId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await posted(placeId, 'Just now', 600);
    await house.move(await house.current(event), 'open-doors');
    expect((await unlink(accountId, 'leave')).body).toMatchObject({
      status: 409,
      code: 'account-on-air',
      params: { title: 'Just now' },
    });
    expect(await accounts()).toHaveLength(1);
  });

  test('says where a platform did not take its postings down, and can be done again', async () => {
    const { placeId, accountId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await posted(placeId, 'Stays for now');
    platforms.world.platforms.skerry.setFault('outage');
    expect((await unlink(accountId, 'take-down')).body).toMatchObject({
      status: 409,
      code: 'postings-stay',
      params: { platform: 'Skerry', count: 1 },
    });
    expect((await house.current(event)).destinationIds).toEqual([]);
    platforms.world.platforms.skerry.setFault('none');
    expect((await unlink(accountId, 'take-down')).status).toBe(204);
    expect(there('Stays for now')).toBeUndefined();
  });

  test('is for those who plan, in their own house', async () => {
    const { accountId } = await platforms.placeAt(house, 'skerry', 'quay');
    const operator = await platforms.server.member(house.houseId, 'operator');
    const stranger = await platforms.server.house('producer');
    const wish = { postings: 'leave' };
    expect((await operator.post(`/api/accounts/${accountId}/unlink`, wish)).status).toBe(403);
    expect((await stranger.post(`/api/accounts/${accountId}/unlink`, wish)).status).toBe(404);
    expect((await stranger.get(`/api/accounts/${accountId}/uses`)).status).toBe(404);
    expect((await house.post(`/api/accounts/${accountId}/unlink`, { postings: 'burn' })).status).toBe(422);
  });
});
