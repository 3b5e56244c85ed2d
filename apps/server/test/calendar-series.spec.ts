import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import type { ImportView } from '@heliphon/contracts/calendar-import';
import type { EventView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import type { SeriesView } from '@heliphon/contracts/series';
import { type HouseClient, ServerDriver } from './driver.js';

/** A Monday in winter, so that the clocks change within the ninety days ahead. */
const TODAY_MS = Date.UTC(2028, 1, 7, 9);
const HORIZON_MS = TODAY_MS + 85 * 86_400_000;

let server: ServerDriver;
let house: HouseClient;
let series: SeriesView;
beforeAll(async () => {
  server = await ServerDriver.start();
  await server.setClock(TODAY_MS - Date.now());
});
beforeEach(async () => {
  house = await server.house();
  const wish = { title: 'Sunday service', firstDate: '2028-02-07', timeOfDay: '10:30', lengthMinutes: 75 };
  series = (await house.post<SeriesView>('/api/series', { ...wish, rule: 'FREQ=WEEKLY;BYDAY=SU' })).body;
});
afterAll(() => server.stop());

const text = async (): Promise<string> => (await house.get<string>('/api/calendar')).body;
const planned = async (): Promise<readonly EventView[]> =>
  (await house.get<Page<EventView>>(`/api/events?from=${TODAY_MS}&limit=200`)).body.items;
const eventOn = async (date: string): Promise<EventView> =>
  (await planned()).find((event) => event.series?.date === date)!;
const edit = async (event: EventView, wish: object): Promise<void> => {
  expect((await house.patch(`/api/events/${event.id}`, event.version, wish)).status).toBe(200);
};

/** What a parser that we did not write makes of a calendar: title and instants of every entry up to the horizon. */
function expanded(file: string): string[] {
  const calendar = new ICAL.Component(ICAL.parse(file) as unknown[]);
  for (const zone of calendar.getAllSubcomponents('vtimezone')) ICAL.TimezoneService.register(zone);
  const entries = calendar.getAllSubcomponents('vevent');
  const isOverride = (entry: (typeof entries)[number]) => entry.hasProperty('recurrence-id');
  const dates: string[] = [];
  const tell = (title: string, start: InstanceType<typeof ICAL.Time>, end: InstanceType<typeof ICAL.Time>) =>
    dates.push(`${title} ${start.toJSDate().toISOString()} ${end.toJSDate().toISOString()}`);
  for (const entry of entries.filter((one) => !isOverride(one))) {
    const event = new ICAL.Event(entry, { exceptions: entries.filter(isOverride) });
    if (!event.isRecurring()) {
      tell(event.summary, event.startDate, event.endDate);
      continue;
    }
    const walk = event.iterator();
    for (let next = walk.next(); next && next.toJSDate().getTime() < HORIZON_MS; next = walk.next()) {
      const { item, startDate, endDate } = event.getOccurrenceDetails(next);
      if (item.component.getFirstPropertyValue('status') !== 'CANCELLED')
        tell(item.summary, startDate, endDate);
    }
  }
  return dates.toSorted();
}
const ours = async (): Promise<string[]> =>
  (await planned())
    .filter(({ startsAtMs, state }) => startsAtMs < HORIZON_MS && state !== 'cancelled')
    .map(({ title, startsAtMs, stopsAtMs }) =>
      [title, new Date(startsAtMs).toISOString(), new Date(stopsAtMs).toISOString()].join(' '),
    )
    .toSorted();

describe('a series in a calendar file', () => {
  test('is one entry with its rule and its zone, which others expand to the dates that we have', async () => {
    const file = await text();
    expect(file.match(/BEGIN:VEVENT/g)).toHaveLength(1);
    expect(file).toContain('RRULE:FREQ=WEEKLY;BYDAY=SU');
    expect(file.match(/BEGIN:VTIMEZONE/g)).toHaveLength(1);
    expect(expanded(file)).toEqual(await ours());
    expect(expanded(file)).toHaveLength(12);
  });

  test('names the dates that were moved, renamed, cancelled, or taken out, and no others', async () => {
    await edit(await eventOn('2028-02-20'), {
      startsAtLocal: '2028-02-20T18:00',
      stopsAtLocal: '2028-02-20T19:00',
    });
    await edit(await eventOn('2028-04-02'), { title: 'Palm Sunday' });
    const cancelled = await eventOn('2028-03-05');
    const wish = { fromState: 'planned', notice: 'The boiler is out.' };
    expect((await house.post(`/api/events/${cancelled.id}/cancel`, wish)).status).toBe(200);
    const taken = await eventOn('2028-03-12');
    expect((await house.delete(`/api/events/${taken.id}`)).status).toBe(204);
    await house.event(60 * 24 * 3, 60 * 24 * 3 + 60);
    const file = await text();
    expect(expanded(file)).toEqual(await ours());
    expect(file.match(/RECURRENCE-ID/g)).toHaveLength(3);
    expect(file.match(/EXDATE/g)).toHaveLength(1);
  });

  test('that ended on a day is expanded up to that day', async () => {
    const path = `/api/series/${series.id}`;
    const rule = 'FREQ=WEEKLY;BYDAY=SU;UNTIL=20280402';
    expect((await house.patch(path, series.version, { rule })).status).toBe(200);
    expect(expanded(await text())).toEqual(await ours());
    expect((await text()).match(/UNTIL=20280402T\d{6}Z/)).not.toBeNull();
  });

  test('stays as it is, to the letter, until something is changed', async () => {
    const asked = async () => {
      const { body, headers } = await house.get<string>('/api/calendar');
      return { body, etag: headers.get('etag') };
    };
    const before = await asked();
    expect(before.body).toMatch(/[^\n]\r\nEND:VCALENDAR\r\n$/);
    await server.setClock(TODAY_MS - Date.now() + 60_000);
    expect(await asked()).toEqual(before);
    await edit(await eventOn('2028-04-02'), { title: 'Palm Sunday' });
    expect((await asked()).etag).not.toBe(before.etag);
  });

  test('taken over into its own house makes nothing twice', async () => {
    const file = new TextEncoder().encode(await text());
    const { entries } = (await house.upload<ImportView>('/api/calendar/preview', file, 'calendar')).body;
    expect(entries).toMatchObject([{ action: 'leave', reason: 'same' }]);
  });
});
