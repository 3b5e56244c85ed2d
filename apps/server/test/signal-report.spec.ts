import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { type Fault, NOTICED_NOTHING } from '@heliphon/core/faults/fault';
import type { EventView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import type { SignalReportView } from '@heliphon/contracts/signal';
import type { SourceView } from '@heliphon/contracts/sources';
import type { Observation } from '@heliphon/core/control/observations';
import { Database } from '../src/platform/database.js';
import type { MailBox } from '../../standins/src/mail/mail-box.js';
import { type HouseClient, type NodeClient, type ServerDriver, startWithMail, until } from './driver.js';

const MINUTE_MS = 60_000;

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
let node: NodeClient;
let house: HouseClient;
let seq = 0;
beforeAll(async () => {
  ({ server, mail, stop } = await startWithMail());
  node = await server.dialAsNode();
  house = await server.house('producer');
});
afterAll(async () => {
  node.close();
  await stop();
});

async function observe(...observations: Observation[]): Promise<void> {
  for (const observation of observations) {
    seq += 1;
    node.observe(seq, observation);
  }
  await until(() => node.storedSeq === seq, 'all being stored');
}

/** An event of ten minutes that has ended so long ago, in which the source was gone for two of them. */
async function heldEvent(event: EventView, source: SourceView, endedAgoMs: number): Promise<void> {
  const { programmeId } = event;
  const endAtMs = Date.now() - endedAgoMs;
  const airAtMs = endAtMs - 10 * MINUTE_MS;
  const at = (minutes: number): number => airAtMs + minutes * MINUTE_MS;
  const picture = { kind: 'picture', sourceId: source.id } as const;
  const fault: Fault = {
    kind: 'encoder-gone',
    subjectId: source.id,
    detail: { ending: 'connection-broke' },
    fromMs: at(4),
    toMs: at(6),
    noticed: { ...NOTICED_NOTHING, slateMs: 2 * MINUTE_MS },
    viewerMs: 60 * MINUTE_MS,
  };
  await observe(
    { kind: 'viewers-have', programmeId, have: picture, atMs: airAtMs },
    { kind: 'viewers-have', programmeId, have: { kind: 'slate' }, atMs: at(4) },
    { kind: 'viewers-have', programmeId, have: picture, atMs: at(6) },
    { kind: 'fault', programmeId, fault, atMs: at(6) },
    {
      kind: 'programme-moved',
      programmeId,
      life: { state: 'kept', doorsAtMs: airAtMs, airAtMs, endAtMs, cause: 'by-hand' },
      atMs: endAtMs,
    },
    {
      kind: 'recording-kept',
      programmeId,
      durationMs: 8 * MINUTE_MS,
      gapsMs: 2 * MINUTE_MS,
      sizeBytes: 9,
      loudness: { integratedLufs: -41.2, rangeLu: 6, truePeakDbtp: -20 },
      atMs: endAtMs,
    },
  );
}
const reportOf = (event: EventView) => house.get<SignalReportView>(`/api/events/${event.id}/signal-report`);

test('an event that is over has its report, and those who were on duty get it by letter, once', async () => {
  const helper = await server.member(house.houseId, 'operator');
  const people = (await house.get<Page<{ id: string; email: string }>>('/api/people')).body.items;
  const personId = people.find(({ email }) => email === helper.email)!.id;
  const source = await house.source('Tower box');
  const event = await house.event(60, 120, source.id);
  const duties = [{ duty: 'operator', personId }];
  await house.patch(`/api/events/${event.id}`, event.version, { title: 'Evensong', duties });
  expect((await reportOf(event)).status).toBe(409);
  await heldEvent(event, source, 2 * MINUTE_MS);

  const { body } = await reportOf(event);
  expect(body).toMatchObject({ title: 'Evensong', names: { [source.id]: 'Tower box' }, before: [] });
  expect(body.report).toMatchObject({
    verdict: 'bad',
    slate: { times: 1, totalMs: 2 * MINUTE_MS },
    loudness: { integratedLufs: -41.2, rangeLu: 6, truePeakDbtp: -20 },
    loudnessVerdict: 'quiet',
    change: { kind: 'encoder-gone' },
    lostViewerMs: 60 * MINUTE_MS,
  });
  expect(body.report.cleanShare).toBeCloseTo(0.8, 5);

  const letters = () => mail.letters.filter(({ to, subject }) => to === helper.email && /went/.test(subject));
  const letter = await until(() => letters()[0], 'the letter');
  expect(letter.subject).toBe('How Evensong went');
  expect(letter.text).toContain('it was clean for only 80.0 % of it');
  expect(letter.text).toContain(
    'Tower box lost its connection. It lasted 2 min. Viewers saw the slate for 2 min. That is 60 viewer minutes.',
  );
  expect(letter.text).toContain(`/events/${event.id}/report`);
  // The next has been looked through by then, and this one is not sent again.
  const next = await house.event(60, 120, source.id);
  await house.patch(`/api/events/${next.id}`, next.version, { title: 'Vespers', duties });
  await heldEvent(next, source, 90_000);
  await until(() => letters().length === 2, 'the letter of the next');
  expect(letters().map(({ subject }) => subject)).toEqual(['How Evensong went', 'How Vespers went']);
});

test('in a series it is compared with those before it, and what came again is named', async () => {
  const source = await house.source('Tower box');
  const events = await Promise.all([0, 1, 2].map(() => house.event(60, 120, source.id)));
  const { installation } = server.app.get(Database);
  const seriesId = await plannedSeries(source);
  for (const [nth, event] of events.entries()) {
    await heldEvent(event, source, (10 - nth) * 60 * MINUTE_MS);
    await installation.query('UPDATE events SET series_id = ?, starts_at = ? WHERE id = ?', [
      seriesId,
      new Date(Date.now() - (10 - nth) * 60 * MINUTE_MS),
      event.id,
    ]);
  }
  const { body } = await reportOf(events[2]!);
  expect(body.before.map(({ eventId, faults }) => [eventId, faults])).toEqual([
    [events[1]!.id, 1],
    [events[0]!.id, 1],
  ]);
  expect(body.repeated).toEqual([{ kind: 'encoder-gone', subjectId: source.id, times: 3, of: 3 }]);
});

/** @returns the id of a series of its own. */
async function plannedSeries(source: SourceView): Promise<string> {
  const series = await house.post<{ id: string }>('/api/series', {
    title: 'Weekly',
    sourceId: source.id,
    likeEventId: null,
    channelId: null,
    rule: 'FREQ=WEEKLY;BYDAY=SU',
    firstDate: '2030-01-06',
    timeOfDay: '10:00',
    lengthMinutes: 60,
  });
  return series.body.id;
}

test('another house does not get to see it', async () => {
  const source = await house.source('Tower box');
  const event = await house.event(60, 120, source.id);
  await heldEvent(event, source, 0);
  const other = await server.house('producer');
  expect((await other.get(`/api/events/${event.id}/signal-report`)).status).toBe(404);
});
