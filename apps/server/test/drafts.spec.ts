import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  await server.setClock(0);
  house = await server.house('producer');
});

/** What was planned becomes a draft, which is a draft again when it is undone. */
async function draftOf(event: EventView): Promise<EventView> {
  const { body } = await house.patch<EventView>(`/api/events/${event.id}`, event.version, { isDraft: true });
  return body;
}
const publish = (draft: EventView) =>
  house.patch<EventView & Problem>(`/api/events/${draft.id}`, draft.version, { isDraft: false });
const statusOf = async (slug: string): Promise<number> =>
  (await server.anybody().get(`/api/public/events/${slug}`)).status;

test('a draft is in the plan, but at no address, in no calendar and in nobody’s way', async () => {
  const source = await house.source();
  const { body: draft } = await house.post<EventView>('/api/events', {
    title: 'Perhaps a supper',
    startsAtLocal: '2031-03-02T18:00',
    stopsAtLocal: '2031-03-02T20:00',
    sourceId: source.id,
    isDraft: true,
  });
  expect(draft).toMatchObject({ isDraft: true, state: 'planned' });
  expect(await statusOf(draft.slug)).toBe(404);
  expect((await house.get<string>('/api/calendar')).body).not.toContain('Perhaps a supper');

  const wish = { title: 'Choir', startsAtLocal: '2031-03-02T19:00', stopsAtLocal: '2031-03-02T20:00' };
  const { body: choir } = await house.post<EventView>('/api/events', { ...wish, sourceId: source.id });
  expect(choir.clash).toBeNull();
  // Who is still thinking about it is told of what is planned already.
  expect((await house.current(draft)).clash).toMatchObject({ title: 'Choir' });
  const only = async (state: string): Promise<string[]> =>
    (await house.get<Page<EventView>>(`/api/events?state=${state}`)).body.items.map(({ title }) => title);
  expect([await only('draft'), await only('planned')]).toEqual([['Perhaps a supper'], ['Choir']]);
});

test('published it has its page and goes on air; undone it is a draft again', async () => {
  const draft = await draftOf(await house.event(600, 660));
  expect((await publish(draft)).body.isDraft).toBe(false);
  expect(await statusOf(draft.slug)).toBe(200);
  await house.post('/api/happenings/undo-last', { subjectId: draft.id });
  expect((await house.current(draft)).isDraft).toBe(true);
  expect(await statusOf(draft.slug)).toBe(404);
});

test('the clock passes it by, no hand moves it, and its node never hears of it', async () => {
  const node = await server.dialAsNode();
  const planned = await house.event(20, 80);
  const draft = await draftOf(await house.event(20, 80));
  expect((await house.move<Problem>(draft, 'go-on-air')).body.code).toBe('still-a-draft');
  await server.setClock(25 * 60_000);
  await until(async () => (await house.current(planned)).state === 'air', 'the other one to be on air');
  expect((await house.current(draft)).state).toBe('planned');
  const named = await until(
    () =>
      node.desired?.programmes.some(({ programmeId }) => programmeId === planned.programmeId) && node.desired,
    'the node to be told',
  );
  expect(named.programmes.map(({ programmeId }) => programmeId)).not.toContain(draft.programmeId);
  node.close();
});

test('when its time is over it wants another before it is published', async () => {
  const draft = await draftOf(await house.event(20, 80));
  await server.setClock(3 * 3_600_000);
  expect(await publish(draft)).toMatchObject({
    status: 422,
    body: { code: 'draft-too-late', fields: [{ path: 'isDraft' }] },
  });
});
