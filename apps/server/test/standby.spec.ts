import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { EventView, ReadinessView } from '@heliphon/contracts/events';
import type { SeriesView } from '@heliphon/contracts/series';
import type { SourceView } from '@heliphon/contracts/sources';
import { type HouseClient, type NodeClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let node: NodeClient;
let house: HouseClient;
let pier: SourceView;
let balcony: SourceView;
beforeAll(async () => {
  server = await ServerDriver.start();
  node = await server.dialAsNode();
  house = await server.house('producer');
  pier = await house.source('Pier camera');
  balcony = await house.source('Balcony');
});
afterAll(async () => {
  node.close();
  await server.stop();
});

const edit = async (event: EventView, change: object) =>
  house.patch<EventView>(`/api/events/${event.id}`, (await house.current(event)).version, change);
const wanted = (event: EventView) =>
  node.desired?.programmes.find(({ programmeId }) => programmeId === event.programmeId)?.standby;

describe('a second source', () => {
  test('is chosen in Plan, told to the node, and taken over by hand while on air', async () => {
    const event = await house.event(60, 120, pier.id);
    expect((await house.post(`/api/events/${event.id}/feed`, { from: 'standby' })).status).toBe(409);
    const { body } = await edit(event, { standbySourceId: balcony.id, standbyAfterSeconds: 2.5 });
    expect(body).toMatchObject({ standbySourceId: balcony.id, prefersStandby: false });
    const told = { sourceId: balcony.id, afterMs: 2500, isPreferred: false };
    await until(() => wanted(event)?.afterMs === 2500, 'the node to know');
    expect(wanted(event)).toEqual(told);

    await house.move(await house.current(event), 'go-on-air');
    const chosen = await house.post<EventView>(`/api/events/${event.id}/feed`, { from: 'standby' });
    expect(chosen.body.prefersStandby).toBe(true);
    await until(() => wanted(event)?.isPreferred, 'the choice to be told');
    await house.post(`/api/events/${event.id}/feed`, { from: 'first' });
    await until(() => wanted(event)?.isPreferred === false, 'the way back');
    // Only by hand, from now on.
    expect((await edit(event, { standbyAfterSeconds: 0 })).status).toBe(200);
    await until(() => wanted(event)?.afterMs === null, 'that to be told');
  });

  test('cannot be the first, nor become it', async () => {
    const event = await house.event(200, 260, pier.id);
    const fields = async (change: object) =>
      (await edit(event, change)).body as unknown as { fields: unknown };
    const refused = [{ path: 'standbySourceId', message: 'standby-is-first' }];
    expect((await fields({ standbySourceId: pier.id })).fields).toEqual(refused);
    await edit(event, { standbySourceId: balcony.id });
    expect((await fields({ sourceId: balcony.id })).fields).toEqual(refused);
    expect((await edit(event, { standbySourceId: '01900000-0000-7000-8000-000000000000' })).status).toBe(404);
  });

  test('is taken: another event that needs it at the same time clashes, and it cannot be deleted', async () => {
    const spare = await house.source('Spare');
    const event = await house.event(300, 360, pier.id);
    await edit(event, { standbySourceId: spare.id });
    const other = await house.event(310, 330, spare.id);
    expect((await house.current(other)).clash).toMatchObject({ eventId: event.id, over: 'source' });
    const { status, body } = await house.delete<{ code: string }>(`/api/sources/${spare.id}`);
    expect([status, body.code]).toEqual([409, 'source-in-use']);
  });

  test('that is not sending when the doors are near is named among what is open', async () => {
    node.keepReporting();
    // Its doors open in five minutes: one that opens them by itself would not be edited.
    const event = await house.event(20, 60, pier.id);
    await edit(event, { standbySourceId: balcony.id });
    const check = await until(async () => {
      const { checks } = (await house.get<ReadinessView>(`/api/events/${event.id}/readiness`)).body;
      return checks.find(({ code, status }) => code === 'standby' && status === 'warns');
    }, 'the node to have said that nothing comes from there');
    expect(check.detail).toMatchObject({ kind: 'away', name: 'Balcony' });
  });

  test('is carried by a series to its dates, and what was changed can be undone', async () => {
    const series = await house.post<SeriesView>('/api/series', {
      title: 'Weekly',
      sourceId: pier.id,
      likeEventId: null,
      channelId: null,
      rule: 'FREQ=WEEKLY;BYDAY=SU',
      firstDate: new Date(Date.now() + 2 * 86_400_000).toISOString().slice(0, 10),
      timeOfDay: '10:00',
      lengthMinutes: 60,
    });
    const { id, version } = series.body;
    const changed = await house.patch<SeriesView>(`/api/series/${id}`, version, {
      standbySourceId: balcony.id,
      standbyAfterSeconds: 4,
    });
    const date = changed.body.dates.find(({ event }) => event !== null)!.event!;
    const event = (await house.get<EventView>(`/api/events/${date.id}`)).body;
    expect(event).toMatchObject({ standbySourceId: balcony.id, standbyAfterSeconds: 4 });
    const own = (await edit(event, { standbySourceId: null })).body;
    expect(own.series!.ownFields).toContain('standbySourceId');
  });
});
