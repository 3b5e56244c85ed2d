import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

const wish = (over: object = {}) => ({
  title: 'Quarter Peal',
  startsAtLocal: '2027-03-07T15:00',
  stopsAtLocal: '2027-03-07T16:30',
  ...over,
});

describe('planning', () => {
  test('an event needs a title and a time; all else has a sensible beginning', async () => {
    const { status, body } = await house.post<EventView>('/api/events', wish());
    expect(status).toBe(201);
    expect(body).toMatchObject({
      state: 'planned',
      doorsMinutes: 15,
      overrunMinutes: 30,
      deadAirMinutes: 10,
      rewindMinutes: 10,
      chatOpen: true,
    });
    expect(body.startsAtMs).toBe(Date.UTC(2027, 2, 7, 15));
    expect(body.doorsAtMs).toBe(body.startsAtMs - 900_000);
  });

  test.each([
    ['a stop before the start', { stopsAtLocal: '2027-03-07T14:00' }, 'stop-before-start', 'stopsAtLocal'],
    [
      'a time that does not exist',
      { startsAtLocal: '2027-03-28T01:30', stopsAtLocal: '2027-03-28T04:00' },
      'time-does-not-exist',
      'startsAtLocal',
    ],
    ['no title', { title: '  ' }, 'fields-wrong', 'title'],
    ['a title without end', { title: 'a'.repeat(500) }, 'fields-wrong', 'title'],
    ['three days', { stopsAtLocal: '2027-03-10T15:00' }, 'too-long-event', 'stopsAtLocal'],
    ['a field nobody knows', { colour: 'red' }, 'fields-wrong', 'colour'],
  ])('%s is refused, and the field is named', async (_name, over, code, field) => {
    const { status, body, headers } = await house.post<Problem>('/api/events', wish(over));
    expect(status).toBe(422);
    expect(headers.get('content-type')).toContain('application/problem+json');
    expect(body).toMatchObject({ code, fields: [{ path: field }] });
  });

  test('a taken address gets a suffix; a renamed one keeps leading on', async () => {
    const first = (await house.post<EventView>('/api/events', wish({ title: 'Évensong & tea' }))).body;
    const second = (await house.post<EventView>('/api/events', wish({ title: 'Évensong & tea' }))).body;
    expect(first.slug).toBe('evensong-tea');
    expect(second.slug).toMatch(/^evensong-tea-[0-9a-z]{4}$/);
    await house.patch(`/api/events/${first.id}`, first.version, { slug: 'lamplight' });
    const old = await server.anybody().get<PublicEvent>('/api/public/events/evensong-tea');
    expect(old.body.slug).toBe('lamplight');
  });
});

describe('planning another like it', () => {
  test('takes everything but the title, the time and the source; the first stays as it is', async () => {
    const first = (await house.post<EventView>('/api/events', wish())).body;
    const place = (
      await house.post<DestinationView>('/api/destinations', {
        name: 'Relay',
        address: 'rtmp://a.example/b/c',
      })
    ).body;
    await house.patch(`/api/events/${first.id}`, first.version, {
      description: 'Eight bells.',
      destinationIds: [place.id],
      chatOpen: false,
      doorsMinutes: 40,
      rewindMinutes: 120,
    });
    const picture = await sharp({ create: { width: 640, height: 360, channels: 3, background: '#123' } })
      .png()
      .toBuffer();
    await house.upload(`/api/events/${first.id}/poster`, picture);
    const liked = await house.current(first);
    const next = { startsAtLocal: '2027-03-14T15:00', stopsAtLocal: '2027-03-14T16:30' };
    const { body } = await house.post<EventView>('/api/events', wish({ ...next, likeEventId: first.id }));
    const { description, posterUrl, destinationIds, chatOpen, doorsMinutes, rewindMinutes } = liked;
    expect(body).toMatchObject({
      description,
      posterUrl,
      destinationIds,
      chatOpen,
      doorsMinutes,
      rewindMinutes,
      state: 'planned',
      sourceId: null,
      doorsAtMs: Date.UTC(2027, 2, 14, 14, 20),
    });
    expect(body.slug).not.toBe(first.slug);
    expect(body.programmeId).not.toBe(first.programmeId);
    expect(await house.current(first)).toEqual(liked);
  });

  test('knows no event of another house', async () => {
    const theirs = await (await server.house()).event(600, 660);
    const { status } = await house.post('/api/events', wish({ likeEventId: theirs.id }));
    expect(status).toBe(404);
  });
});

describe('editing', () => {
  test('needs the version; a stale one is refused and nothing is lost', async () => {
    const event = (await house.post<EventView>('/api/events', wish())).body;
    expect((await house.patch(`/api/events/${event.id}`, null, { title: 'A' })).status).toBe(428);
    const saved = await house.patch<EventView>(`/api/events/${event.id}`, event.version, { title: 'First' });
    expect(saved.body).toMatchObject({ title: 'First', version: event.version + 1 });
    const stale = await house.patch<Problem>(`/api/events/${event.id}`, event.version, { title: 'Second' });
    expect(stale).toMatchObject({ status: 412, body: { code: 'changed-meanwhile' } });
    expect((await house.current(event)).title).toBe('First');
  });

  test('every edit is written down with what was before and after', async () => {
    const event = (await house.post<EventView>('/api/events', wish())).body;
    await house.patch(`/api/events/${event.id}`, event.version, { title: 'After' });
    const [, edited] = await server.happenings(event.id);
    expect(edited).toMatchObject({
      kind: 'event-edited',
      before: { title: 'Quarter Peal' },
      after: { title: 'After' },
    });
  });

  test('the start cannot be moved once the doors are open; the description can', async () => {
    const event = await house.event(60, 120);
    const { body } = await house.move(event, 'open-doors');
    const late = await house.patch<Problem>(`/api/events/${event.id}`, body.version, {
      startsAtLocal: '2027-03-07T15:00',
    });
    expect(late).toMatchObject({ status: 409, body: { code: 'too-late-to-change' } });
    expect((await house.patch(`/api/events/${event.id}`, body.version, { description: 'Tea' })).status).toBe(
      200,
    );
    expect((await house.delete<Problem>(`/api/events/${event.id}`)).body.code).toBe('not-planned-any-more');
  });

  test('a planned event can be deleted, and its page is gone', async () => {
    const event = (await house.post<EventView>('/api/events', wish())).body;
    expect((await house.delete(`/api/events/${event.id}`)).status).toBe(204);
    expect((await server.anybody().get(`/api/public/events/${event.slug}`)).status).toBe(404);
  });

  test('two events on one source at once see each other', async () => {
    const source = await house.source('Tower box');
    const first = await house.event(600, 660, source.id);
    const second = await house.event(630, 700, source.id);
    expect((await house.current(first)).clash).toMatchObject({ eventId: second.id });
    expect((await house.current(second)).clash).toMatchObject({ eventId: first.id });
  });
});

describe('posters', () => {
  test('a picture is checked, turned into the sizes that pages need, and shown', async () => {
    const event = await house.event(600, 660);
    const picture = await sharp({ create: { width: 2000, height: 900, channels: 3, background: '#e9a21b' } })
      .png()
      .toBuffer();
    const { body } = await house.upload<EventView>(`/api/events/${event.id}/poster`, picture);
    const shown = await fetch(server.url + body.posterUrl!);
    const facts = await sharp(Buffer.from(await shown.arrayBuffer())).metadata();
    expect(facts).toMatchObject({ format: 'jpeg', width: 1280, height: 720 });
  });

  test.each([
    ['no picture', Buffer.from('<svg onload=alert(1)>'.repeat(20)), 'poster-no-picture'],
    [
      'a broken picture',
      Buffer.concat([Buffer.from('89504e470d0a1a0a', 'hex'), Buffer.alloc(200)]),
      'poster-no-picture',
    ],
    ['nothing', Buffer.alloc(0), 'poster-missing'],
  ])('%s is refused in words, and the old poster stays', async (_name, file, code) => {
    const event = await house.event(600, 660);
    const answer = await house.upload<Problem>(`/api/events/${event.id}/poster`, file);
    expect(answer).toMatchObject({ status: 422, body: { code } });
  });
});

test('lists are paged, by their start, each event once', async () => {
  const other = await server.house();
  for (let count = 0; count < 7; count += 1) await other.event(600 + count, 700 + count);
  const seen: string[] = [];
  let after: string | null = null;
  do {
    const query: string = after ? `&after=${encodeURIComponent(after)}` : '';
    const page: Page<EventView> = (await other.get<Page<EventView>>(`/api/events?limit=3${query}`)).body;
    seen.push(...page.items.map((event) => event.id));
    after = page.next;
  } while (after);
  expect(new Set(seen).size).toBe(7);
  expect(seen).toHaveLength(7);
  expect((await other.get('/api/events?limit=9999')).status).toBe(422);
});
