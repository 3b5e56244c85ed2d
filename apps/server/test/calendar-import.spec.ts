import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { ImportView } from '@heliphon/contracts/calendar-import';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { SeriesView } from '@heliphon/contracts/series';
import { type Answer, type HouseClient, ServerDriver } from './driver.js';

/** A Monday in winter. */
const TODAY_MS = Date.UTC(2028, 1, 7, 9);

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  await server.setClock(TODAY_MS - Date.now());
});
beforeEach(async () => {
  house = await server.house();
});
afterAll(() => server.stop());

const entry = (lines: readonly string[], uid = 'one@elsewhere.example'): string =>
  ['BEGIN:VEVENT', `UID:${uid}`, 'SUMMARY:Harvest supper', ...lines, 'END:VEVENT'].join('\r\n');
const SUPPER = ['DTSTART;TZID=Europe/London:20280401T180000', 'DTEND;TZID=Europe/London:20280401T200000'];
const SUNDAYS = [
  'DTSTART;TZID=Europe/London:20280206T103000',
  'DTEND;TZID=Europe/London:20280206T114500',
  'RRULE:FREQ=WEEKLY;BYDAY=SU',
  'EXDATE;TZID=Europe/London:20280220T103000',
];
const calendar = (...entries: readonly string[]): string =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Elsewhere//EN', ...entries, 'END:VCALENDAR', ''].join('\r\n');

const EVENSONG = {
  title: 'Lamplight Evensong',
  startsAtLocal: '2028-03-05T19:00',
  stopsAtLocal: '2028-03-05T19:45',
};

const send = <T = ImportView>(path: 'preview' | 'import', text: string): Promise<Answer<T>> =>
  house.upload<T>(`/api/calendar/${path}`, new TextEncoder().encode(text), 'calendar');
const decisions = async (text: string): Promise<(string | null)[]> =>
  (await send('preview', text)).body.entries.map(({ action, reason }) => reason ?? action);
const events = async (): Promise<readonly EventView[]> =>
  (await house.get<Page<EventView>>('/api/events?limit=200')).body.items;

describe('a calendar file', () => {
  test('is looked at before anything is made', async () => {
    expect((await send('preview', calendar(entry(SUPPER)))).body.entries).toEqual([
      {
        uid: 'one@elsewhere.example',
        title: 'Harvest supper',
        startsAtMs: Date.UTC(2028, 3, 1, 17),
        repeats: null,
        action: 'make',
        reason: null,
      },
    ]);
    expect(await events()).toEqual([]);
  });

  test('makes nothing twice, and changes what it made', async () => {
    const text = calendar(entry([...SUPPER, 'DESCRIPTION:Bring a chair\\, please.']));
    await send('import', text);
    const [made] = await events();
    expect(made).toMatchObject({ title: 'Harvest supper', description: 'Bring a chair, please.' });
    expect(await decisions(text)).toEqual(['same']);
    await send('import', text.replace('Harvest supper', 'Harvest lunch'));
    expect(await events()).toMatchObject([{ id: made!.id, title: 'Harvest lunch' }]);
  });

  test('of ours, taken over again, changes nothing', async () => {
    await house.post('/api/events', EVENSONG);
    const { body, headers } = await house.get<string>('/api/calendar');
    expect(headers.get('content-type')).toBe('text/calendar; charset=utf-8');
    expect(headers.get('content-disposition')).toContain('attachment');
    expect(await decisions(body)).toEqual(['same']);
    const moved = body.replace('SUMMARY:Lamplight Evensong', 'SUMMARY:Evensong by lamplight');
    await send('import', moved);
    expect(await events()).toMatchObject([{ title: 'Evensong by lamplight' }]);
  });

  test('makes a series of what repeats, without the days it leaves out', async () => {
    const text = calendar(entry(SUNDAYS));
    await send('import', text);
    const [series] = (await house.get<Page<SeriesView>>('/api/series')).body.items;
    expect(series).toMatchObject({ rule: 'FREQ=WEEKLY;BYDAY=SU', timeOfDay: '10:30', lengthMinutes: 75 });
    expect(series!.dates.slice(0, 2)).toMatchObject([
      { date: '2028-02-13', isSkipped: false },
      { date: '2028-02-20', isSkipped: true },
    ]);
    expect(await decisions(text)).toEqual(['same']);
    await send('import', text.replace('T114500', 'T113000'));
    expect((await house.get<SeriesView>(`/api/series/${series!.id}`)).body.lengthMinutes).toBe(60);
  });

  test.each([
    ['was', ['DTSTART:20200401T180000Z', 'DTEND:20200401T190000Z'], 'past'],
    ['is cancelled', [...SUPPER, 'STATUS:CANCELLED'], 'cancelled'],
    ['lasts all day', ['DTSTART;VALUE=DATE:20280401'], 'all-day'],
    ['lasts three days', ['DTSTART:20280401T180000Z', 'DTEND:20280404T180000Z'], 'too-long'],
    ['has no end', ['DTSTART:20280401T180000Z'], 'no-time'],
    ['has no time at all', [], 'unreadable'],
    [
      'keeps a zone nobody knows',
      ['DTSTART;TZID=Moon/Base:20280401T180000', 'DURATION:PT1H'],
      'zone-unknown',
    ],
    ['repeats every second', [...SUPPER, 'RRULE:FREQ=SECONDLY'], 'rule-unreadable'],
    ['repeats a million times', [...SUPPER, 'RRULE:FREQ=DAILY;COUNT=1000000'], 'rule-unreadable'],
    [
      'began very long ago',
      [...SUPPER, 'RRULE:FREQ=WEEKLY'].map((line) => line.replace('2028', '2001')),
      'long-ago',
    ],
    ['is one date of what repeats', [...SUPPER, 'RECURRENCE-ID:20280401T170000Z'], 'one-date'],
  ])('leaves alone what %s, and says so', async (_name, lines, reason) => {
    expect(await decisions(calendar(entry(lines)))).toEqual([reason]);
    await send('import', calendar(entry(lines)));
    expect(await events()).toEqual([]);
  });

  test('is read with times of no zone as the house’s, and with zones of its own making', async () => {
    const own = [
      'BEGIN:VTIMEZONE',
      'TZID:Quay time',
      'BEGIN:STANDARD',
      'DTSTART:19700101T000000',
      'TZOFFSETFROM:+0200',
      'TZOFFSETTO:+0200',
      'END:STANDARD',
      'END:VTIMEZONE',
    ].join('\r\n');
    const text = calendar(
      own,
      entry(['DTSTART:20280701T180000', 'DTEND:20280701T190000']),
      entry(['DTSTART;TZID=Quay time:20280701T180000', 'DTEND;TZID=Quay time:20280701T190000'], 'two@x'),
    );
    const { entries } = (await send('preview', text)).body;
    expect(entries.map(({ startsAtMs }) => startsAtMs)).toEqual([
      Date.UTC(2028, 6, 1, 17),
      Date.UTC(2028, 6, 1, 16),
    ]);
  });

  test('leaves alone what has begun', async () => {
    await send('import', calendar(entry(SUPPER)));
    await house.move((await events())[0]!, 'open-doors');
    expect(await decisions(calendar(entry(SUPPER)).replace('supper', 'lunch'))).toEqual(['begun']);
  });

  test.each([
    ['no calendar', 'Dear all, we meet on Sunday.', 422, 'calendar-unreadable'],
    ['nothing', '', 422, 'calendar-unreadable'],
    ['another kind of file', 'BEGIN:VCARD\r\nFN:Odo\r\nEND:VCARD\r\n', 422, 'calendar-unreadable'],
    ['far too much', calendar('X'.repeat(2_100_000)), 413, 'too-large'],
    [
      'a thousand and one entries',
      calendar(...Array.from({ length: 1001 }, (_, index) => entry(SUPPER, String(index)))),
      422,
      'calendar-too-many',
    ],
  ])('that is %s is refused whole', async (_name, text, status, code) => {
    const answer = await send<Problem>('import', text);
    expect([answer.status, answer.body.code]).toEqual([status, code]);
    expect(await events()).toEqual([]);
  });

  test('of another house’s events makes them ours, and touches none of theirs', async () => {
    await house.post('/api/events', EVENSONG);
    const text = (await house.get<string>('/api/calendar')).body;
    const [theirs] = await events();
    house = await server.house();
    await send('import', text.replace('SUMMARY:Lamplight Evensong', 'SUMMARY:Ours now'));
    expect(await events()).toMatchObject([{ title: 'Ours now' }]);
    expect((await events())[0]!.id).not.toBe(theirs!.id);
    await send('import', text);
    expect(await events()).toHaveLength(1);
  });
});

describe('a file that would cost what it likes', () => {
  const zoned = (rule: string): string =>
    calendar(
      'BEGIN:VTIMEZONE',
      'TZID:Minute',
      'BEGIN:STANDARD',
      'DTSTART:16010101T000000',
      'TZOFFSETFROM:+0000',
      'TZOFFSETTO:+0100',
      `RRULE:${rule}`,
      'END:STANDARD',
      'END:VTIMEZONE',
      entry(['DTSTART;TZID=Minute:20280401T180000', 'DTEND;TZID=Minute:20280401T200000']),
    );

  /** Processor time of this thread (proc(5), `schedstat`): what others do on a shared machine does not count. */
  const busyMs = (): number =>
    Number(readFileSync(`/proc/self/task/${process.pid}/schedstat`, 'utf8').split(' ')[0]) / 1e6;

  test.each([
    ['a zone whose clocks change every minute', zoned('FREQ=MINUTELY')],
    ['a zone whose clocks change on every day', zoned('FREQ=DAILY')],
    ['a rule that never comes', calendar(entry([...SUPPER, 'RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30']))],
    ['a rule of thousands', calendar(entry([...SUPPER, `RRULE:FREQ=DAILY;BYSETPOS=${'1,'.repeat(4000)}1`]))],
    ['a line without end', calendar(entry([`DESCRIPTION:${'x'.repeat(200_000)}`, ...SUPPER]))],
    ['components in one another', 'BEGIN:VCALENDAR\r\n'.repeat(15_000)],
  ])('holds up nobody else: %s', async (_what, text) => {
    let longestMs = 0;
    let lastMs = busyMs();
    const watch = setInterval(() => {
      longestMs = Math.max(longestMs, busyMs() - lastMs);
      lastMs = busyMs();
    }, 5);
    const { status } = await send('preview', text);
    clearInterval(watch);
    expect([200, 201, 422]).toContain(status);
    expect(longestMs).toBeLessThan(200);
  });
});
