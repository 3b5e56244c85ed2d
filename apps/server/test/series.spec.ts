import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { EditSeries, SeriesPreview, SeriesView } from '@heliphon/contracts/series';
import type { SourceView } from '@heliphon/contracts/sources';
import { type HouseClient, ServerDriver, until } from './driver.js';

const DAY_MS = 86_400_000;
/** A Monday in winter, so that the clocks change within the ninety days ahead. */
const TODAY_MS = Date.UTC(2028, 1, 7, 9);

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
  await server.setClock(TODAY_MS - Date.now());
});
afterEach(() => server.setClock(TODAY_MS - Date.now()));
afterAll(() => server.stop());

const wish = (over: object = {}) => ({
  title: 'Sunday service',
  rule: 'FREQ=WEEKLY;BYDAY=SU',
  firstDate: '2028-02-07',
  timeOfDay: '10:30',
  lengthMinutes: 75,
  ...over,
});
const plan = async (over: object = {}): Promise<SeriesView> =>
  (await house.post<SeriesView>('/api/series', wish(over))).body;
const change = async (series: SeriesView, edit: EditSeries): Promise<SeriesView> => {
  const { version } = (await house.get<SeriesView>(`/api/series/${series.id}`)).body;
  return (await house.patch<SeriesView>(`/api/series/${series.id}`, version, edit)).body;
};
const eventsOf = async ({ id }: { readonly id: string }): Promise<EventView[]> => {
  const path = `/api/events?from=${TODAY_MS}&limit=200`;
  const items: EventView[] = [];
  for (let after: string | null = ''; after !== null;) {
    const page: Page<EventView> = (await house.get<Page<EventView>>(after ? `${path}&after=${after}` : path))
      .body;
    items.push(...page.items);
    after = page.next;
  }
  return items.filter(({ series }) => series?.id === id);
};
const edit = async (event: EventView, edits: object): Promise<EventView> =>
  (await house.patch<EventView>(`/api/events/${event.id}`, event.version, edits)).body;
const undo = (subjectId: string) => house.post('/api/happenings/undo-last', { subjectId });
const startsOf = (events: readonly EventView[]): string[] =>
  events.map(({ startsAtMs }) => new Date(startsAtMs).toISOString().slice(0, 16));

describe('a series', () => {
  test('brings its dates of the next ninety days into being, each with all that it holds', async () => {
    const source = (await house.post<SourceView>('/api/sources', { name: 'Chapel desk' })).body;
    const series = await plan({ sourceId: source.id });
    const events = await eventsOf(series);
    expect(events).toHaveLength(13);
    expect(events[0]).toMatchObject({
      title: 'Sunday service',
      sourceId: source.id,
      slug: 'sunday-service-2028-02-13',
      state: 'planned',
      series: { id: series.id, date: '2028-02-13', ownFields: [] },
    });
    // By the clock on the wall it stays half past ten when summer time begins on 26 March.
    expect(startsOf(events)[0]).toBe('2028-02-13T10:30');
    expect(startsOf(events).at(-1)).toBe('2028-05-07T09:30');
    expect(series.dates).toHaveLength(10);
    expect(series.parsed).toMatchObject({ unit: 'week', every: 1, weekdays: [{ weekday: 7, nth: null }] });
  });

  test('goes on by itself as the days pass', async () => {
    const series = await plan({ title: 'Evensong' });
    await server.setClock(TODAY_MS + 21 * DAY_MS - Date.now());
    await until(async () => (await eventsOf(series)).length === 16, 'three Sundays more');
    expect((await server.happenings(series.id)).at(-1)).toMatchObject({
      kind: 'series-dates-made',
      by: 'clock',
    });
  });

  test.each([
    ['words', { rule: 'every Sunday' }, 'rule-not-a-rule', 'rule'],
    ['hours', { rule: 'FREQ=HOURLY' }, 'rule-part-unknown', 'rule'],
    ['no date at all', { rule: 'FREQ=MONTHLY;BYMONTH=2;BYMONTHDAY=31' }, 'rule-without-dates', 'rule'],
    ['a beginning a thousand years ago', { firstDate: '1028-02-07' }, 'first-date-far', 'firstDate'],
    ['a day that is none', { firstDate: '2028-02-31' }, 'no-such-date', 'firstDate'],
    ['a time that is none', { timeOfDay: '24:10' }, 'fields-wrong', 'timeOfDay'],
    ['no title', { title: ' ' }, 'fields-wrong', 'title'],
  ])('of %s is refused, and the field is named', async (_name, over, code, field) => {
    const { status, body } = await house.post<Problem>('/api/series', wish(over));
    expect(status).toBe(422);
    expect(body).toMatchObject({ code, fields: [{ path: field }] });
  });

  test('shows its dates before anything is made, and what the clocks do to them', async () => {
    const { body } = await house.post<SeriesPreview>(
      '/api/series/preview',
      (({ title: _title, ...when }) => when)(wish({ timeOfDay: '01:30' })),
    );
    expect(body.dates).toHaveLength(10);
    expect(body.dates.find(({ date }) => date === '2028-03-26')).toMatchObject({ shiftedTo: '02:30' });
    expect(body).toMatchObject({ made: 13, moved: 0, removed: 0, left: 0 });
  });

  test('that is planned by mistake can be undone whole', async () => {
    const series = await plan({ title: 'By mistake' });
    expect((await undo(series.id)).status).toBe(204);
    expect(await eventsOf(series)).toEqual([]);
    expect((await house.get(`/api/series/${series.id}`)).status).toBe(404);
    expect((await plan({ title: 'By mistake' })).slug).toBe('by-mistake');
  });
});

describe('changing a series', () => {
  test('changes every date to come, but never what one of them changed by itself', async () => {
    const series = await plan({ title: 'Vespers' });
    const [first, second] = await eventsOf(series);
    await edit(second!, { title: 'Vespers with the choir', startsAtLocal: '2028-02-20T11:00' });
    await change(series, { title: 'Evening prayer', timeOfDay: '18:00', lengthMinutes: 60 });
    const events = await eventsOf(series);
    const now = (id: string): EventView => events.find((event) => event.id === id)!;
    expect(now(first!.id)).toMatchObject({ title: 'Evening prayer', startsAtMs: Date.UTC(2028, 1, 13, 18) });
    expect(now(second!.id)).toMatchObject({
      title: 'Vespers with the choir',
      startsAtMs: Date.UTC(2028, 1, 20, 11),
      series: { ownFields: ['title', 'when'] },
    });
  });

  test('to another day moves no event that somebody changed, and says so before', async () => {
    const series = await plan({ title: 'Matins' });
    const [first] = await eventsOf(series);
    await edit(first!, { description: 'With tea.' });
    const { rule: _rule, ...when } = wish();
    const { title: _title, ...preview } = { ...when, rule: 'FREQ=WEEKLY;BYDAY=SA', seriesId: series.id };
    expect((await house.post<SeriesPreview>('/api/series/preview', preview)).body).toMatchObject({
      made: 13,
      removed: 12,
      left: 1,
    });
    await change(series, { rule: 'FREQ=WEEKLY;BYDAY=SA' });
    const events = await eventsOf(series);
    expect(events.filter(({ startsAtMs }) => new Date(startsAtMs).getUTCDay() === 0)).toMatchObject([
      { id: first!.id, description: 'With tea.' },
    ]);
    expect(events).toHaveLength(14);
    await undo(series.id);
    expect((await eventsOf(series)).every(({ startsAtMs }) => new Date(startsAtMs).getUTCDay() === 0)).toBe(
      true,
    );
  });

  test('holds its source and its places: what it uses cannot be deleted', async () => {
    const source = (await house.post<SourceView>('/api/sources', { name: 'Pier' })).body;
    const place = (
      await house.post<DestinationView>('/api/destinations', {
        name: 'Relay',
        address: 'rtmp://a.example/b/c',
      })
    ).body;
    // It has ended: no event of it uses either any more.
    const series = await plan({ title: 'Ended', rule: 'FREQ=WEEKLY;COUNT=1', firstDate: '2028-02-06' });
    await change(series, { sourceId: source.id, destinationIds: [place.id] });
    const codes = await Promise.all(
      [`/api/sources/${source.id}`, `/api/destinations/${place.id}`].map(
        async (path) => (await house.delete<Problem>(path)).body.code,
      ),
    );
    expect(codes).toEqual(['source-in-use', 'place-in-use']);
  });

  test('by two people at once loses neither: the second sees what the first made of it', async () => {
    const series = await plan({ title: 'Two at once' });
    await house.patch(`/api/series/${series.id}`, series.version, { title: 'Mine' });
    const { status, body } = await house.patch<Problem>(`/api/series/${series.id}`, series.version, {
      title: 'Yours',
    });
    expect(status).toBe(412);
    expect(body.current).toMatchObject({ title: 'Mine' });
  });

  test('needs a right, and its own house', async () => {
    const series = await plan({ title: 'Ours alone' });
    const moderator = await server.member(house.houseId, 'moderator');
    expect((await moderator.patch(`/api/series/${series.id}`, series.version, { title: 'X' })).status).toBe(
      403,
    );
    const other = await server.house();
    expect((await other.get(`/api/series/${series.id}`)).status).toBe(404);
    const [event] = await eventsOf(series);
    expect((await other.post(`/api/events/${event!.id}/spread`, { to: 'all' })).status).toBe(404);
  });
});

describe('a change of one date', () => {
  test('can be brought to all', async () => {
    const series = await plan({ title: 'Compline' });
    const third = (await eventsOf(series))[2]!;
    await edit(third, { description: 'By candlelight.', stopsAtLocal: '2028-02-27T12:00' });
    const { body } = await house.post<SeriesView>(`/api/events/${third.id}/spread`, { to: 'all' });
    expect(body).toMatchObject({ description: 'By candlelight.', lengthMinutes: 90 });
    const events = await eventsOf(series);
    expect(events.every((event) => event.stopsAtMs - event.startsAtMs === 90 * 60_000)).toBe(true);
    expect(events.every((event) => event.series!.ownFields.length === 0)).toBe(true);
  });

  test('can be brought to the later ones; the earlier keep what they have', async () => {
    const series = await plan({ title: 'Prime' });
    const third = (await eventsOf(series))[2]!;
    await edit(third, { chatOpen: false });
    await house.post(`/api/events/${third.id}/spread`, { to: 'later' });
    expect((await eventsOf(series)).map(({ chatOpen }) => chatOpen)).toEqual([
      true,
      true,
      ...Array.from({ length: 11 }, () => false),
    ]);
  });

  test('that was brought to the others is undone: each has what it had', async () => {
    const series = await plan({ title: 'None, spread' });
    const third = (await eventsOf(series))[2]!;
    await edit(third, { description: 'By candlelight.' });
    await house.post(`/api/events/${third.id}/spread`, { to: 'later' });
    await undo(series.id);
    const events = await eventsOf(series);
    expect(events.map(({ description }) => description).filter(Boolean)).toEqual(['By candlelight.']);
    expect(events.flatMap((event) => event.series!.ownFields)).toEqual(['description']);
    expect(events[2]!.id).toBe(third.id);
  });

  test('to another day is its own: the rule would have to say it', async () => {
    const [first] = await eventsOf(await plan({ title: 'Terce' }));
    await edit(first!, { startsAtLocal: '2028-02-12T10:30', stopsAtLocal: '2028-02-12T11:30' });
    const { status, body } = await house.post<Problem>(`/api/events/${first!.id}/spread`, { to: 'all' });
    expect([status, body.code]).toEqual([409, 'another-day']);
  });

  test('is no longer its own once it was undone', async () => {
    const series = await plan({ title: 'Sext' });
    const [first] = await eventsOf(series);
    await edit(first!, { title: 'Sext, late' });
    await undo(first!.id);
    expect((await eventsOf(series))[0]).toMatchObject({ title: 'Sext', series: { ownFields: [] } });
    expect((await house.post<Problem>(`/api/events/${first!.id}/spread`, { to: 'all' })).body.code).toBe(
      'nothing-of-its-own',
    );
  });
});

describe('a date', () => {
  test('is left out, and taken up again', async () => {
    const series = await plan({ title: 'None' });
    const path = `/api/series/${series.id}/skips/2028-02-20`;
    const skipped = (await house.ask<SeriesView>('PUT', path)).body;
    expect(skipped.dates[1]).toMatchObject({ date: '2028-02-20', isSkipped: true, event: null });
    await change(series, { description: 'Psalms.' });
    expect(await eventsOf(series)).toHaveLength(12);
    expect((await house.delete<SeriesView>(path)).body.dates[1]).toMatchObject({ isSkipped: false });
    expect(await eventsOf(series)).toHaveLength(13);
  });

  test('whose event is deleted does not come back by itself, only by undo', async () => {
    const series = await plan({ title: 'Lauds' });
    const [first] = await eventsOf(series);
    await house.delete(`/api/events/${first!.id}`);
    await change(series, { description: 'Psalms.' });
    expect((await eventsOf(series))[0]!.series!.date).toBe('2028-02-20');
    await undo(first!.id);
    expect((await eventsOf(series))[0]!.id).toBe(first!.id);
  });

  test('whose event was deleted, and which was given again since, is not brought back twice', async () => {
    const series = await plan({ title: 'Given again' });
    const [first] = await eventsOf(series);
    await house.delete(`/api/events/${first!.id}`);
    await house.delete(`/api/series/${series.id}/skips/2028-02-13`);
    const { status, body } = await house.post<Problem>('/api/happenings/undo-last', { subjectId: first!.id });
    expect([status, body.code]).toEqual([409, 'changed-since']);
    expect(await eventsOf(series)).toHaveLength(13);
  });

  test('that was deleted comes back without its series, where that is gone', async () => {
    const series = await plan({ title: 'Gone since' });
    const [first] = await eventsOf(series);
    await house.delete(`/api/events/${first!.id}`);
    await undo(series.id);
    await undo(first!.id);
    expect((await house.get<EventView>(`/api/events/${first!.id}`)).body.series).toBeNull();
  });

  test('that somebody changed is not left out from afar: its words would be lost', async () => {
    const series = await plan({ title: 'None, changed' });
    await edit((await eventsOf(series))[0]!, { description: 'With tea.' });
    const { status, body } = await house.ask<Problem>('PUT', `/api/series/${series.id}/skips/2028-02-13`);
    expect([status, body.code]).toEqual([409, 'date-of-its-own']);
    expect(await eventsOf(series)).toHaveLength(13);
  });

  test('that is none of the series’ cannot be left out', async () => {
    const series = await plan({ title: 'Nocturns' });
    for (const date of ['2028-02-21', '2028-02-31', 'sunday'])
      expect((await house.ask<Problem>('PUT', `/api/series/${series.id}/skips/${date}`)).status).toBe(422);
  });
});

describe('the address of a series', () => {
  const shown = async (slug: string): Promise<PublicEvent> =>
    (await server.anybody().get<PublicEvent>(`/api/public/events/${slug}`)).body;

  test('shows the next date, what is on, and what has just ended', async () => {
    const series = await plan({ title: 'Carols' });
    expect(series.slug).toBe('carols');
    const [first] = await eventsOf(series);
    expect((await shown('carols')).slug).toBe('carols-2028-02-13');
    const move = (kind: string, fromState: string) =>
      house.post(`/api/events/${first!.id}/${kind}`, { commandId: crypto.randomUUID(), fromState });
    await move('go-on-air', 'planned');
    expect(await shown('carols')).toMatchObject({ slug: 'carols-2028-02-13', state: 'air' });
    await move('end', 'air');
    expect(await shown('carols')).toMatchObject({ slug: 'carols-2028-02-13', state: 'kept' });
    await server.setClock(TODAY_MS + 3 * DAY_MS - Date.now());
    await until(async () => (await shown('carols')).slug === 'carols-2028-02-20', 'the next date');
  });
});
