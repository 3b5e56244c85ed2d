import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { TellOfTrouble, ViewerReportView } from '@heliphon/contracts/viewer-reports';
import { ViewerReports } from '../src/signal/viewer-reports.service.js';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let event: EventView;
beforeAll(async () => {
  server = await ServerDriver.start({ trustedProxies: ['127.0.0.1'] });
});
afterAll(() => server.stop());
beforeEach(async () => {
  house = await server.house();
  event = await house.event(600, 660);
});

const TOLD: TellOfTrouble = {
  complaint: 'sound',
  finding: 'device-silent',
  moments: [{ atMs: 1_000_000, status: 'waiting', lateSeconds: 12, isMuted: false }],
};
const tell = (told: object = TOLD, from = '203.0.113.1') =>
  server.anybody().post<Problem>(`/api/public/events/${event.slug}/reports`, told, {
    'x-forwarded-for': from,
    'user-agent': 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1',
  });
const read = async (by = house) => by.get<Page<ViewerReportView>>(`/api/events/${event.id}/viewer-reports`);

test('what a viewer tells is read by the house, and says nothing of who it was', async () => {
  expect((await tell()).status).toBe(204);
  const { items } = (await read()).body;
  expect(items).toMatchObject([{ ...TOLD, device: expect.stringContaining('iPhone') }]);
  expect(JSON.stringify(items)).not.toContain('203.0.113.1');
});

test('what was told long ago is let go', async () => {
  await tell();
  await server.setClock(366 * 86_400_000);
  await server.app.get(ViewerReports).tidy();
  await server.setClock(0);
  expect((await read()).body.items).toEqual([]);
});

test('somebody who tells again and again is stopped; others are heard', async () => {
  const statuses: number[] = [];
  for (let count = 0; count < 12; count += 1) statuses.push((await tell()).status);
  expect(statuses.slice(-2)).toEqual([429, 429]);
  expect((await tell(TOLD, '203.0.113.2')).status).toBe(204);
});

test.each([
  [{ ...TOLD, complaint: 'smell' }],
  [{ ...TOLD, finding: 'ghosts' }],
  [{ ...TOLD, moments: Array.from({ length: 61 }, () => TOLD.moments[0]) }],
  [{ ...TOLD, moments: [{ ...TOLD.moments[0], status: '<script>' }] }],
  [{}],
])('what makes no sense is refused: %#', async (told) => {
  expect((await tell(told)).status).toBe(422);
  expect((await read()).body.items).toEqual([]);
});

test('of an event that is for some alone only they tell, and another house reads nothing', async () => {
  await tell();
  const path = `/api/watching/event/${event.id}`;
  const { version } = (await house.get<{ version: number }>(path)).body;
  await house.put(path, version, { own: { live: 'house' } });
  expect((await tell()).body.code).toBe('not-admitted');
  const stranger = await server.house();
  expect((await read(stranger)).status).toBe(404);
});
