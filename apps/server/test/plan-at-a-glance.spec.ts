import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventGlance, EventView, ReadinessView, RemediesView } from '@heliphon/contracts/events';
import type { PersonView } from '@heliphon/contracts/people';
import type { Page } from '@heliphon/contracts/problem';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  house = await server.house('owner');
});

const event = async (title: string, at: string, over: object = {}): Promise<EventView> => {
  const day = at.slice(0, 10);
  const wish = {
    title,
    startsAtLocal: at,
    stopsAtLocal: `${day}T${String(Number(at.slice(11, 13)) + 1).padStart(2, '0')}:00`,
  };
  const planned = (await house.post<EventView>('/api/events', wish)).body;
  if (Object.keys(over).length === 0) return planned;
  return (await house.patch<EventView>(`/api/events/${planned.id}`, planned.version, over)).body;
};
const found = async (query: string): Promise<string[]> =>
  (await house.get<Page<EventView>>(`/api/events?${query}`)).body.items.map(({ title }) => title);

describe('a search', () => {
  test('finds by part of the title, whatever signs are in it, and only in one’s own house', async () => {
    const other = await server.house();
    await other.post('/api/events', {
      title: 'Evensong elsewhere',
      startsAtLocal: '2030-03-03T18:00',
      stopsAtLocal: '2030-03-03T19:00',
    });
    await event('Choral Evensong', '2030-03-03T18:00');
    await event('100% shanties', '2030-03-04T18:00');
    await event('1000 shanties', '2030-03-05T18:00');
    expect(await found('q=evensong')).toEqual(['Choral Evensong']);
    expect(await found('q=100%25')).toEqual(['100% shanties']);
    expect(await found('q=100_')).toEqual([]);
    expect(await found('q=nothing of the kind')).toEqual([]);
    expect(await found('q=shanties&order=latest')).toEqual(['1000 shanties', '100% shanties']);
  });

  test('and any choice beside it: source, place, who is on duty, state', async () => {
    const source = await house.source();
    const place = (
      await house.post<DestinationView>('/api/destinations', {
        name: 'Relay',
        address: 'rtmp://127.0.0.1/live/k',
      })
    ).body;
    const personId = (await house.get<Page<PersonView>>('/api/people')).body.items[0]!.id;
    const duties = [{ duty: 'operator', personId }];
    await event('Both', '2030-03-03T10:00', { sourceId: source.id, destinationIds: [place.id], duties });
    await event('Source alone', '2030-03-04T10:00', { sourceId: source.id });
    await event('Duty alone', '2030-03-05T10:00', { duties });
    expect(await found(`sourceId=${source.id}`)).toEqual(['Both', 'Source alone']);
    expect(await found(`destinationId=${place.id}`)).toEqual(['Both']);
    expect(await found(`personId=${personId}`)).toEqual(['Both', 'Duty alone']);
    expect(await found(`personId=${personId}&destinationId=${place.id}&q=o`)).toEqual(['Both']);
    expect(await found('state=kept')).toEqual([]);
  });

  test.each(['sourceId=me', 'state=lost', `q=${'x'.repeat(121)}`, 'colour=red'])(
    '%s is refused',
    async (query) => {
      expect((await house.get(`/api/events?${query}`)).status).toBe(422);
    },
  );

  test('a glance has a month in few words', async () => {
    const planned = await event('Evensong', '2030-03-03T18:00');
    await event('April', '2030-04-01T18:00');
    const [from, to] = [Date.UTC(2030, 2, 1), Date.UTC(2030, 3, 1)];
    const { items } = (await house.get<Page<EventGlance>>(`/api/events/glance?from=${from}&to=${to}`)).body;
    const { id, title, startsAtMs, state, isDraft } = planned;
    expect(items).toEqual([{ id, title, startsAtMs, state, isDraft }]);

    const first = (await house.get<Page<EventGlance>>('/api/events/glance?limit=1')).body;
    const rest = (await house.get<Page<EventGlance>>(`/api/events/glance?limit=1&after=${first.next}`)).body;
    expect([...first.items, ...rest.items].map((one) => one.title)).toEqual(['Evensong', 'April']);
    expect(rest.next).toBeNull();
  });
});

describe('a clash', () => {
  const remedies = async ({ id }: EventView): Promise<RemediesView> =>
    (await house.get<RemediesView>(`/api/events/${id}/remedies`)).body;
  const timesOf = ({ times }: RemediesView): string[] =>
    times.map(({ startsAtMs }) => new Date(startsAtMs).toISOString().slice(5, 16));

  test('over a source: another that is free, or the nearest time, and one step ends it', async () => {
    const [desk, pier, hall] = [
      await house.source('Desk'),
      await house.source('Pier'),
      await house.source('Hall'),
    ];
    const choir = await event('Choir', '2030-03-03T10:00', { sourceId: desk.id });
    await event('Bells', '2030-03-03T10:30', { sourceId: pier.id });
    const prayers = await event('Prayers', '2030-03-03T10:00', { sourceId: desk.id });
    expect(prayers.clash).toEqual({ eventId: choir.id, title: 'Choir', over: 'source' });
    const found = await remedies(prayers);
    expect(found.sources).toEqual([{ id: hall.id, name: 'Hall' }]);
    // Doors are a quarter of an hour before: so is the end of whatever is before.
    expect(timesOf(found)).toEqual(['03-03T08:45', '03-03T11:15']);
    const [, later] = found.times;
    const local = (ms: number): string => new Date(ms).toISOString().slice(0, 16);
    const moved = await house.patch<EventView>(`/api/events/${prayers.id}`, prayers.version, {
      startsAtLocal: local(later!.startsAtMs),
      stopsAtLocal: local(later!.stopsAtMs),
    });
    expect(moved.body.clash).toBeNull();
  });

  test('running over is none: it is said what it would run into, and when that opens its doors', async () => {
    const desk = await house.source('Desk');
    const soon = new Date(Date.now() + 9 * 86_400_000).toISOString().slice(0, 10);
    const prayers = await event('Prayers', `${soon}T10:00`, { sourceId: desk.id });
    const intoOf = async () =>
      (await house.get<ReadinessView>(`/api/events/${prayers.id}/readiness`)).body.checks.find(
        ({ code }) => code === 'overrun',
      )!;
    expect((await intoOf()).status).toBe('passed');
    const choir = await event('Choir', `${soon}T11:20`, { sourceId: desk.id });
    expect(prayers.clash ?? choir.clash).toBeNull();
    expect(await intoOf()).toMatchObject({
      status: 'advises',
      detail: { title: 'Choir', opensAtMs: choir.doorsAtMs },
    });
    const short = await house.patch<EventView>(`/api/events/${prayers.id}`, prayers.version, {
      overrunMinutes: 5,
    });
    expect([short.status, (await intoOf()).status]).toEqual([200, 'passed']);
  });

  test('over a place: it takes one programme at a time', async () => {
    const place = (
      await house.post<DestinationView>('/api/destinations', {
        name: 'Coast relay',
        address: 'rtmp://127.0.0.1/live/k',
      })
    ).body;
    const destinationIds = [place.id];
    const soon = (days: number): string =>
      new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
    await event('Choir', `${soon(9)}T10:00`, { destinationIds });
    const prayers = await event('Prayers', `${soon(9)}T10:00`, { destinationIds });
    expect(prayers.clash).toMatchObject({ title: 'Choir', over: 'place' });
    const { checks } = (await house.get<ReadinessView>(`/api/events/${prayers.id}/readiness`)).body;
    expect(checks.find(({ code }) => code === 'source-free')).toMatchObject({
      status: 'warns',
      detail: { kind: 'place', name: 'Coast relay', title: 'Choir' },
    });
  });
});
