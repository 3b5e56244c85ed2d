import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { AccountView, OutletView } from '@heliphon/contracts/accounts';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { OutletWordsView } from '@heliphon/contracts/postings';
import { NO_WORDS, type PostingWords } from '@heliphon/core/connectors/posting-words';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { Database } from '../src/platform/database.js';
import { PostingKeeper } from '../src/postings/posting-keeper.js';
import { PostingEntity } from '../src/tables/posting.entity.js';
import type { World } from '../../standins/test/world.js';
import { type HouseClient, type ServerDriver, until } from './driver.js';
import { change, DAY_MIN, eventAt, PlatformHouse, postingsOf, stands } from './platform-house.js';

let platforms: PlatformHouse;
let world: World;
let server: ServerDriver;
let house: HouseClient;
const pass = (ms: number): Promise<void> => platforms.pass(ms);
beforeAll(async () => {
  platforms = await PlatformHouse.start();
  ({ world, server } = platforms);
});
beforeEach(async () => {
  await pass(0);
  house = await server.house('producer');
});
afterAll(() => platforms.stop());

const tick = (accountId: string, outletId: string, isChosen: boolean) =>
  house.patch<Problem>(`/api/accounts/${accountId}/outlets/${outletId}`, null, { isChosen });

describe('a posting', () => {
  test('is made days ahead, kept in step with its event, and told to those who plan', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId, 'Evensong ahead');
    const posting = await stands(house, event, 'planned');
    expect(posting).toMatchObject({ name: 'Lantern Quay Commons', platform: 'Skerry', audience: 'everyone' });
    expect(await (await fetch(posting.link!)).text()).toContain('By candlelight.');
    const moved = await change(house, event, { title: 'Evensong, moved' });
    const known = await until(async () => platforms.byTitle('skerry', 'Evensong, moved'), 'the change');
    expect(known.startsAtMs).toBe(moved.startsAtMs);
    const kinds = (await server.happenings(event.id)).map(({ kind }) => kind);
    expect(kinds.filter((kind) => kind === 'posting-made')).toHaveLength(1);
    const stranger = await server.house('producer');
    expect((await stranger.get(`/api/events/${event.id}/postings`)).status).toBe(404);
  });

  test('is not made too early', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const early = await eventAt(house, placeId, 'Early', 9 * DAY_MIN);
    const soon = await eventAt(house, placeId);
    await stands(house, soon, 'planned');
    expect(await postingsOf(house, early)).toMatchObject([
      { state: null, postsAtMs: early.startsAtMs - 7 * DAY_MIN * 60_000, trouble: null },
    ]);
    await pass(3 * DAY_MIN * 60_000);
    await stands(house, early, 'planned');
  });

  test('is made as long before as its place says', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const ahead = async (postAheadHours: number | null) => {
      const places = (await house.get<Page<DestinationView>>('/api/destinations')).body.items;
      const { version } = places.find(({ id }) => id === placeId)!;
      return house.patch<Problem>(`/api/destinations/${placeId}`, version, { postAheadHours });
    };
    await ahead(3);
    const event = await eventAt(house, placeId, 'In a month', 30 * DAY_MIN);
    const soon = await eventAt(house, placeId, 'In two hours', 120);
    await stands(house, soon, 'planned');
    expect((await postingsOf(house, event))[0]!.state).toBeNull();
    await ahead(null);
    await stands(house, event, 'planned');
    expect((await ahead(-1)).status).toBe(422);
    const { body: own } = await house.post<DestinationView>('/api/destinations', {
      name: 'Relay',
      address: 'rtmp://a.example/b/c',
    });
    const refused = await house.patch<Problem>(`/api/destinations/${own.id}`, own.version, {
      postAheadHours: 3,
    });
    expect(refused.body).toMatchObject({ status: 409, code: 'place-of-address' });
  });

  test.each<[string, (event: EventView) => Promise<unknown>]>([
    [
      'its event is cancelled',
      (event) => house.post(`/api/events/${event.id}/cancel`, { fromState: 'planned' }),
    ],
    ['its event goes elsewhere', (event) => change(house, event, { destinationIds: [] })],
    ['its event is deleted', (event) => house.delete(`/api/events/${event.id}`)],
  ])('is taken down when %s', async (why, end) => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId, why);
    await until(async () => platforms.byTitle('skerry', why), 'the posting');
    await end(await house.current(event));
    await until(async () => !platforms.byTitle('skerry', why), 'the posting to be gone');
  });

  test('comes back when its event goes there after all', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId, 'Back again');
    await stands(house, event, 'planned');
    await change(house, event, { destinationIds: [] });
    await until(async () => !platforms.byTitle('skerry', 'Back again'), 'it to be taken down');
    await change(house, event, { destinationIds: [placeId] });
    await stands(house, event, 'planned');
    expect(platforms.byTitle('skerry', 'Back again')).toBeDefined();
  });

  test('is made once, though two servers want it and one of them dies before it has written that down', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId, 'Only once');
    const keeper = server.app.get(PostingKeeper);
    await Promise.all([keeper.work(), keeper.work()]);
    await stands(house, event, 'planned');
    const before = platforms.byTitle('skerry', 'Only once')!.id;
    const forgotten = { idThere: null, state: null, link: null };
    await server.app.get(Database).installation.update(PostingEntity, { eventId: event.id }, forgotten);
    await stands(house, event, 'planned');
    expect(
      platforms
        .there('skerry')
        .filter(({ title }) => title === 'Only once')
        .map(({ id }) => id),
    ).toEqual([before]);
  });

  test('that has disappeared from the platform is made again: at once when it is needed, else within half an hour', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId, 'Lost');
    await stands(house, event, 'planned');
    world.platforms.skerry.postings.remove(platforms.byTitle('skerry', 'Lost')!.id);
    await change(house, event, { title: 'Found again' });
    const { id } = await until(async () => platforms.byTitle('skerry', 'Found again'), 'the new one');
    await until(async () => (await postingsOf(house, event))[0]?.trouble === null, 'all to be well');
    world.platforms.skerry.postings.remove(id);
    await pass(31 * 60_000);
    await until(async () => platforms.byTitle('skerry', 'Found again'), 'one more');
  });
});

describe('words of its own', () => {
  const say = (event: EventView, placeId: string, words: Partial<PostingWords>, by = house) =>
    by.ask<Problem>('PUT', `/api/events/${event.id}/postings/${placeId}/words`, { ...NO_WORDS, ...words });

  test('are said at one place in place of what is said everywhere, until they are taken back', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId, 'Said everywhere');
    await stands(house, event, 'planned');
    expect((await say(event, placeId, { title: 'Said here', audience: 'friends' })).status).toBe(204);
    const known = await until(async () => platforms.byTitle('skerry', 'Said here'), 'the words');
    expect(known).toMatchObject({ text: 'By candlelight.', audience: 'friends' });
    const [posting] = await postingsOf(house, event);
    expect(posting).toMatchObject({ words: { title: 'Said here', text: null }, audience: 'friends' });
    await change(house, event, { title: 'Changed everywhere', description: 'By moonlight.' });
    await until(
      async () => platforms.byTitle('skerry', 'Said here')?.text === 'By moonlight.',
      'the other words',
    );
    await say(event, placeId, {});
    await until(async () => platforms.byTitle('skerry', 'Changed everywhere'), 'the words of everywhere');
    const [last] = (await server.happenings(event.id)).slice(-1);
    await house.post(`/api/happenings/${last!.id}/undo`);
    await until(async () => platforms.byTitle('skerry', 'Said here'), 'the words again');
  });

  test('of a series are those of all its dates', async () => {
    const { placeId } = await platforms.placeAt(house, 'windlass', 'bells');
    const series = await house.series({ title: 'Bells of the week', destinationIds: [placeId] });
    const path = `/api/series/${series.id}/postings`;
    const words = { ...NO_WORDS, title: 'Bells, every week' };
    expect((await house.ask('PUT', `${path}/${placeId}/words`, words)).status).toBe(204);
    const { items } = (await house.get<{ items: OutletWordsView[] }>(path)).body;
    expect(items).toMatchObject([{ name: 'Bells of the harbour', words }]);
    await until(async () => platforms.byTitle('windlass', 'Bells, every week'), 'the words');
  });

  test('are let in no further than the account lets see', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay', { audience: 'only-me' });
    const event = await eventAt(house, placeId, 'Nobody sees it');
    await say(event, placeId, { audience: 'everyone' });
    await until(
      async () => platforms.byTitle('skerry', 'Nobody sees it')?.audience === 'only-me',
      'the posting',
    );
  });

  test('are for those who plan, for places that the event goes to, and with pictures of the house', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId);
    const elsewhere = await house.event(600, 660);
    const operator = await server.member(house.houseId, 'operator');
    const stranger = await server.house('producer');
    expect((await say(event, placeId, {}, operator)).status).toBe(403);
    expect((await say(event, placeId, {}, stranger)).status).toBe(404);
    expect((await say(elsewhere, placeId, {})).status).toBe(404);
    expect((await say(event, placeId, { pictureId: event.id })).status).toBe(404);
    expect((await say(event, placeId, { title: 'x'.repeat(121) })).body.fields?.[0]?.path).toBe('title');
    expect((await say(event, placeId, { audience: 'all' as never })).status).toBe(422);
  });
});

describe('what is in the way of a posting', () => {
  test('is said, and it is tried again', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    world.platforms.skerry.setFault('outage');
    const event = await eventAt(house, placeId);
    const posting = await until(async () => {
      const [one] = await postingsOf(house, event);
      return one?.trouble === 'out-of-order' && one;
    }, 'the trouble');
    expect(posting.nextTryAtMs).toBeGreaterThan(Date.now());
    world.platforms.skerry.setFault('none');
    await pass(60_000);
    expect(await stands(house, event, 'planned')).toMatchObject({ trouble: null, nextTryAtMs: null });
  });

  test('may be a consent that was taken back: linked again, it goes on', async () => {
    const { placeId, accountId } = await platforms.placeAt(house, 'skerry', 'quay');
    world.platforms.skerry.consents.revokeAll('ines');
    const event = await eventAt(house, placeId);
    await until(async () => (await postingsOf(house, event))[0]?.trouble === 'consent-ended', 'the trouble');
    expect((await house.get<Page<AccountView>>('/api/accounts')).body.items[0]!.endedAtMs).not.toBeNull();
    await platforms.link(house, 'skerry', { outlets: ['quay'] }, accountId);
    await stands(house, event, 'planned');
  });

  test('may be a group that has not let us in', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'friends');
    const event = await eventAt(house, placeId);
    await until(async () => (await postingsOf(house, event))[0]?.trouble === 'not-let-in', 'the trouble');
    world.platforms.skerry.directory.allow('friends', true);
    await pass(60_000);
    await stands(house, event, 'planned');
    world.platforms.skerry.directory.allow('friends', false);
  });
});

test('an outlet that an event goes to stays; its address is nobody’s to change', async () => {
  const { placeId, accountId } = await platforms.placeAt(house, 'windlass', 'quay-films');
  await eventAt(house, placeId);
  const [outlet] = (await house.get<Page<OutletView>>(`/api/accounts/${accountId}/outlets`)).body.items;
  expect((await tick(accountId, outlet!.id, false)).body).toMatchObject({
    status: 409,
    code: 'place-in-use',
  });
  const address = 'rtmp://elsewhere.example/live/key';
  const [place] = (await house.get<Page<DestinationView>>('/api/destinations')).body.items;
  for (const refused of [
    await house.patch<Problem>(`/api/destinations/${placeId}`, place!.version, { address }),
    await house.delete<Problem>(`/api/destinations/${placeId}`),
    await house.post<Problem>(`/api/destinations/${placeId}/address`),
  ])
    expect(refused.body).toMatchObject({ status: 409, code: 'place-of-outlet' });
});
