import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import type { OwnCalendar } from '@heliphon/contracts/calendars';
import type { ChannelView, PublicChannel, PublicReplay } from '@heliphon/contracts/channels';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { SeriesView } from '@heliphon/contracts/series';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let chapel: ChannelView;
let seq = 0;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  house = await server.house('producer', 'Lantern Quay Commons');
  chapel = (await house.post<ChannelView>('/api/channels', { name: 'Chapel' })).body;
});

const inChannel = async (event: EventView, channelId: string | null = chapel.id): Promise<EventView> =>
  (await house.patch<EventView>(`/api/events/${event.id}`, event.version, { channelId })).body;
const page = async (slug = chapel.slug): Promise<PublicChannel> =>
  (await server.anybody().get<PublicChannel>(`/api/public/channels/${slug}`)).body;
const titles = (entries: readonly { readonly title: string }[]): string[] =>
  entries.map(({ title }) => title);
/** What was taught to the page within the second that answers are kept. */
const pageWhen = (isReady: (shown: PublicChannel) => boolean): Promise<PublicChannel> =>
  until(async () => {
    const shown = await page();
    return isReady(shown) ? shown : null;
  }, 'the channel’s page');
const titlesAt = async (path: string): Promise<string[]> => {
  const { body } = await server.anybody().get<string>(path);
  const calendar = new ICAL.Component(ICAL.parse(body) as unknown[]);
  return calendar.getAllSubcomponents('vevent').map((entry) => new ICAL.Event(entry).summary);
};

/** An event of the chapel that is over, and can be watched again. */
async function kept(title: string): Promise<EventView> {
  const event = await inChannel(await house.event(600, 660));
  const named = await house.patch<EventView>(`/api/events/${event.id}`, event.version, { title });
  await house.move(named.body, 'go-on-air');
  await house.move(await house.current(event), 'end');
  const node = await server.dialAsNode();
  seq += 1;
  node.observe(seq, {
    kind: 'recording-kept',
    loudness: null,
    gapsMs: 0,
    programmeId: event.programmeId,
    durationMs: 60_000,
    sizeBytes: 1e6,
    atMs: Date.now(),
  });
  await until(() => node.storedSeq >= seq, 'the recording');
  node.close();
  return event;
}

describe('a channel’s page', () => {
  test('is there from the first day, and empty', async () => {
    const shown = await page();
    expect(shown).toMatchObject({ name: 'Chapel', house: { name: 'Lantern Quay Commons' } });
    expect([shown.present, shown.coming, shown.replays.items]).toEqual([[], [], []]);
    const html = await server.anybody().get<string>(`/channel/${chapel.slug}`);
    expect(html.status).toBe(200);
    expect(html.body).toContain('<title>Chapel · Lantern Quay Commons</title>');
    expect((await server.anybody().get('/channel/nowhere')).status).toBe(404);
    expect((await server.anybody().get(`/api/public/channels/nowhere`)).status).toBe(404);
  });

  test('shows what is on, what is coming, and what was; of this channel alone', async () => {
    const [on, next, elsewhere] = [
      await house.event(60, 120),
      await house.event(600, 660),
      await house.event(700, 760),
    ];
    await house.move(await inChannel(on), 'go-on-air');
    await inChannel(next);
    await kept('Compline');
    const shown = await pageWhen(
      ({ present, coming, replays }) =>
        present[0]?.state === 'air' && coming.length === 1 && replays.items.length === 1,
    );
    expect(shown.present).toMatchObject([{ slug: on.slug, state: 'air' }]);
    expect(shown.coming.map(({ slug }) => slug)).toEqual([next.slug]);
    expect(titles(shown.replays.items)).toEqual(['Compline']);
    expect(elsewhere.channelId).toBeNull();
  });

  test('hands out what can be watched again in pages', async () => {
    for (let count = 0; count < 13; count += 1) await kept(`Evensong ${count}`);
    const first = await pageWhen(({ replays }) => replays.next !== null);
    expect(first.replays.items).toHaveLength(12);
    const more = await server
      .anybody()
      .get<Page<PublicReplay>>(
        `/api/public/channels/${chapel.slug}/replays?after=${encodeURIComponent(first.replays.next!)}`,
      );
    expect([titles(more.body.items), more.body.next]).toEqual([['Evensong 0'], null]);
    expect(
      (await server.anybody().get(`/api/public/channels/${chapel.slug}/replays?after=nonsense`)).status,
    ).toBe(422);
  });

  test('leaves out drafts and rehearsals', async () => {
    const source = await house.source();
    const event = await inChannel(await house.event(600, 660, source.id));
    await house.post(`/api/events/${event.id}/rehearsals`);
    const another = await inChannel(await house.event(800, 860));
    await house.patch(`/api/events/${another.id}`, another.version, { isDraft: true });
    const shown = await pageWhen(({ coming }) => coming.length > 0);
    expect([shown.present, shown.coming.map(({ slug }) => slug)]).toEqual([[], [event.slug]]);
  });
});

test('one address and one embed always show what is on, was just on, or comes next', async () => {
  const at = `/api/public/events/${chapel.slug}`;
  expect((await server.anybody().get(at)).status).toBe(404);
  const later = await inChannel(await house.event(900, 960));
  const sooner = await inChannel(await house.event(600, 660));
  const shown = (slug: string) =>
    until(async () => {
      const { body } = await server.anybody().get<PublicEvent>(at);
      return body.slug === slug ? body : null;
    }, `${slug} to be shown`);
  expect((await shown(sooner.slug)).channel).toEqual({ name: 'Chapel', slug: chapel.slug });
  await house.move(later, 'go-on-air');
  await shown(later.slug);
  const link = encodeURIComponent(`${server.url}/channel/${chapel.slug}`);
  const { body } = await server.anybody().get<{ html: string }>(`/oembed?url=${link}`);
  expect(body.html).toContain(`src="${server.url}/embed/${chapel.slug}"`);
});

test('its calendar shows its events and no others, publicly and at a private address', async () => {
  await inChannel(await house.event(600, 660));
  await house.post('/api/events', {
    title: 'Quiz',
    startsAtLocal: '2031-03-02T18:00',
    stopsAtLocal: '2031-03-02T20:00',
  });
  const browser = await server.browser(house);
  const own = `/api/own/calendar?channelId=${chapel.id}`;
  expect((await browser.get<OwnCalendar>(own)).body.address).toBeNull();
  const path = new URL((await browser.post<OwnCalendar>(own)).body.address!).pathname;
  for (const shown of [path, `/api/public/channels/${chapel.slug}/calendar.ics`])
    expect(await titlesAt(shown)).toEqual(['Lamplight Evensong']);
  const whole = new URL((await browser.post<OwnCalendar>('/api/own/calendar')).body.address!).pathname;
  expect((await titlesAt(whole)).sort()).toEqual(['Lamplight Evensong', 'Quiz']);
  await browser.delete(own);
  expect((await server.anybody().get(path)).status).toBe(404);
  expect((await server.anybody().get(whole)).status).toBe(200);
});

test('a series gives its channel to its dates, but for one that has its own', async () => {
  const hall = (await house.post<ChannelView>('/api/channels', { name: 'Hall' })).body;
  const day = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
  const { body: series } = await house.post<SeriesView>('/api/series', {
    title: 'Vespers',
    rule: 'FREQ=DAILY;COUNT=3',
    firstDate: day,
    timeOfDay: '18:00',
    lengthMinutes: 30,
    channelId: chapel.id,
  });
  const dates = async (): Promise<EventView[]> =>
    (await house.get<Page<EventView>>('/api/events')).body.items.filter(
      ({ title }) => title === 'Vespers',
    ) as EventView[];
  const [first] = await dates();
  await inChannel(first!, null);
  await house.patch(`/api/series/${series.id}`, series.version, { channelId: hall.id });
  expect((await dates()).map(({ channelId }) => channelId)).toEqual([null, hall.id, hall.id]);
  const { items } = (await house.get<Page<EventView>>(`/api/events?channelId=${hall.id}`)).body;
  expect(items).toHaveLength(2);
});

test('deleted, its events stay without it; taken back, they stand in it again, but for what has moved on', async () => {
  const hall = (await house.post<ChannelView>('/api/channels', { name: 'Hall' })).body;
  const [stays, moves] = [
    await inChannel(await house.event(600, 660)),
    await inChannel(await house.event(700, 760)),
  ];
  expect((await house.delete(`/api/channels/${chapel.id}`)).status).toBe(204);
  expect((await house.current(stays)).channelId).toBeNull();
  expect((await server.anybody().get(`/api/public/channels/${chapel.slug}`)).status).toBe(404);
  await inChannel(await house.current(moves), hall.id);
  await house.post('/api/happenings/undo-last', { subjectId: chapel.id });
  expect([(await house.current(stays)).channelId, (await house.current(moves)).channelId]).toEqual([
    chapel.id,
    hall.id,
  ]);
});

test('a renamed address leads on, and a change that somebody else made first is shown', async () => {
  const { body } = await house.patch<ChannelView>(`/api/channels/${chapel.id}`, chapel.version, {
    slug: 'chapel-on-the-quay-x',
  });
  expect((await page(chapel.slug)).slug).toBe(body.slug);
  const late = await house.patch<Problem>(`/api/channels/${chapel.id}`, chapel.version, { name: 'Nave' });
  expect([late.status, late.body.code]).toEqual([412, 'changed-meanwhile']);
  await house.post('/api/happenings/undo-last', { subjectId: chapel.id });
  expect((await page(body.slug)).slug).toBe(chapel.slug);
});

test('no event finds its way into another house’s channel', async () => {
  const other = await server.house('producer');
  const theirs = (await other.post<ChannelView>('/api/channels', { name: 'Reading room' })).body;
  const event = await house.event(600, 660);
  const refused = await house.patch(`/api/events/${event.id}`, event.version, { channelId: theirs.id });
  expect(refused.status).toBe(404);
  expect((await house.delete(`/api/channels/${theirs.id}`)).status).toBe(404);
});
