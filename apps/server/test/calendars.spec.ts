import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import type { OwnCalendar } from '@heliphon/contracts/calendars';
import type { EventView } from '@heliphon/contracts/events';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let browser: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  house = await server.house('owner', 'Lantern Quay Commons');
  browser = await server.browser(house);
});

/** The path of one's own address; asked for again it is another. */
async function renewed(client = browser): Promise<string> {
  const { address } = (await client.post<OwnCalendar>('/api/own/calendar')).body;
  return new URL(address!).pathname;
}

/** What a parser that we did not write reads at an address. */
async function entriesAt(path: string): Promise<InstanceType<typeof ICAL.Event>[]> {
  const { body, status, headers } = await server.anybody().get<string>(path);
  expect([status, headers.get('content-type')]).toEqual([200, 'text/calendar; charset=utf-8']);
  const calendar = new ICAL.Component(ICAL.parse(body) as unknown[]);
  return calendar.getAllSubcomponents('vevent').map((component) => new ICAL.Event(component));
}

describe('one’s own calendar address', () => {
  test('is not there until it is asked for, and then stays the same', async () => {
    expect((await browser.get<OwnCalendar>('/api/own/calendar')).body).toEqual({ address: null });
    const path = await renewed();
    expect(path).toMatch(/^\/calendar\/[0-9a-z]{32}\.ics$/);
    const { address } = (await browser.get<OwnCalendar>('/api/own/calendar')).body;
    expect(new URL(address!).pathname).toBe(path);
  });

  test('gives what the house plans, at the instant it begins, with where to watch', async () => {
    const event = await house.event(600, 660);
    const [entry] = await entriesAt(await renewed());
    expect(entry).toMatchObject({ summary: 'Lamplight Evensong', uid: `${event.id}@heliphon` });
    expect(entry!.startDate.toJSDate().getTime()).toBe(event.startsAtMs);
    expect(entry!.endDate.toJSDate().getTime()).toBe(event.stopsAtMs);
    expect(entry!.location).toBe(`${server.url}/watch/${event.slug}`);
  });

  test('shows a moved event as the same one, moved', async () => {
    const event = await house.event(600, 660);
    const path = await renewed();
    const [before] = await entriesAt(path);
    const moved = await house.patch<EventView>(`/api/events/${event.id}`, event.version, {
      title: 'Evensong, later and longer; with “carols”, and a comma',
    });
    const [after] = await entriesAt(path);
    expect([after!.uid, after!.summary]).toEqual([before!.uid, moved.body.title]);
    expect(after!.sequence).toBeGreaterThan(before!.sequence);
  });

  test('is worth nothing once it is renewed, ended, or its person has left', async () => {
    const anybody = server.anybody();
    const first = await renewed();
    const second = await renewed();
    expect((await anybody.get(first)).status).toBe(404);
    expect((await anybody.get(second)).status).toBe(200);
    await browser.delete('/api/own/calendar');
    expect((await anybody.get(second)).status).toBe(404);

    const leaver = await server.member(house.houseId, 'moderator');
    const theirs = await renewed(await server.browser(leaver));
    const { items } = (await house.get<{ items: { id: string; email: string }[] }>('/api/people')).body;
    const { id } = items.find(({ email }) => email === leaver.email)!;
    expect((await anybody.get(theirs)).status).toBe(200);
    expect((await house.delete(`/api/people/${id}`)).status).toBe(204);
    expect((await anybody.get(theirs)).status).toBe(404);
  });

  test('tells nothing of another house, and nothing to those who guess', async () => {
    const other = await server.house();
    await other.event(600, 660);
    expect(await entriesAt(await renewed())).toEqual([]);
    for (const guess of ['a'.repeat(32), 'short', '../../etc/passwd', '%00'])
      expect((await server.anybody().get(`/calendar/${encodeURIComponent(guess)}.ics`)).status).toBe(404);
  });
});
