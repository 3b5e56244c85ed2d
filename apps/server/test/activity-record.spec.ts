import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

describe('what was changed', () => {
  const undoLast = (subjectId: string) => house.post<Problem>('/api/happenings/undo-last', { subjectId });

  test('an edit of an event is undone: its own fields, and only where nobody changed them since', async () => {
    const event = await house.event(600, 660);
    const first = (
      await house.patch<EventView>(`/api/events/${event.id}`, event.version, {
        title: 'Sunrise',
        doorsMinutes: 5,
      })
    ).body;
    await house.patch(`/api/events/${event.id}`, first.version, { description: 'Bring a lamp' });
    const [described, renamed] = (
      await house.get<Page<ActivityEntry>>(`/api/happenings?subjectId=${event.id}`)
    ).body.items;
    await house.post(`/api/happenings/${renamed!.id}/undo`);
    expect(await house.current(event)).toMatchObject({
      title: event.title,
      doorsMinutes: 15,
      description: 'Bring a lamp',
    });
    const again = await house.post<Problem>(`/api/happenings/${renamed!.id}/undo`);
    expect(again).toMatchObject({ status: 409, body: { code: 'undone-already' } });
    await house.patch(`/api/events/${event.id}`, (await house.current(event)).version, {
      description: 'Bring two',
    });
    const stale = await house.post<Problem>(`/api/happenings/${described!.id}/undo`);
    expect(stale.body.code).toBe('changed-since');
  });

  test('what was deleted comes back as it was: event, source with its key, place with its secret', async () => {
    const event = await house.event(600, 660);
    await house.delete(`/api/events/${event.id}`);
    expect((await undoLast(event.id)).status).toBe(204);
    expect(await house.current(event)).toMatchObject({ title: event.title, slug: event.slug });

    const source = await house.source('Tower');
    const key = (await house.get<{ key: string }>(`/api/sources/${source.id}/key`)).body.key;
    await house.delete(`/api/sources/${source.id}`);
    await undoLast(source.id);
    expect((await house.get<{ key: string }>(`/api/sources/${source.id}/key`)).body.key).toBe(key);

    const address = 'rtmps://ann:pw@relay.example/live/secret-key';
    const { body: place } = await house.post<DestinationView>('/api/destinations', {
      name: 'Relay',
      address,
    });
    await house.delete(`/api/destinations/${place.id}`);
    await undoLast(place.id);
    const shown = await house.post<{ address: string }>(`/api/destinations/${place.id}/address`);
    expect(shown.body.address).toBe('rtmps://ann:pw@relay.example:443/live/secret-key');
  });

  test('the record is searched by words and by person, page by page, and holds no secret', async () => {
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { title: 'Candlemas procession' });
    const found = await house.get<Page<ActivityEntry>>('/api/happenings?words=Candlemas');
    expect(found.body.items.map((entry) => entry.kind)).toEqual(['event-edited']);
    const page = await house.get<Page<ActivityEntry>>('/api/happenings?limit=2');
    const next = await house.get<Page<ActivityEntry>>(`/api/happenings?limit=2&after=${page.body.next}`);
    expect(new Set([...page.body.items, ...next.body.items].map(({ id }) => id)).size).toBe(4);
    const all = JSON.stringify((await house.get('/api/happenings?limit=200')).body);
    expect(all).not.toMatch(/v1\.[0-9a-f]{8}\.|Sha256|Verifier/);
  });

  test('names what it speaks of as it is called today, and of what is gone keeps what was written down', async () => {
    const event = await house.event(600, 660);
    await house.move(event, 'open-doors');
    const source = await house.source('Belfry');
    await house.post(`/api/sources/${source.id}/renew-key`);
    const of = async (subjectId: string) =>
      (await house.get<Page<ActivityEntry>>(`/api/happenings?subjectId=${subjectId}`)).body.items[0];
    expect(await of(event.id)).toMatchObject({ kind: 'event-doors', subjectName: event.title });
    expect(await of(source.id)).toMatchObject({ subjectName: 'Belfry' });
    await house.delete(`/api/sources/${source.id}`);
    expect(await of(source.id)).toMatchObject({
      kind: 'source-deleted',
      subjectName: null,
      before: { name: 'Belfry' },
    });
  });

  test('a stale edit is answered with the present state, so that both versions can be shown', async () => {
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { title: 'Theirs' });
    const stale = await house.patch<Problem>(`/api/events/${event.id}`, event.version, { title: 'Ours' });
    expect(stale).toMatchObject({
      status: 412,
      body: { current: { title: 'Theirs', version: event.version + 1 } },
    });
  });
});
