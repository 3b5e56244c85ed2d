import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Check } from '@heliphon/core/readiness/readiness';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView, ReadinessView } from '@heliphon/contracts/events';
import type { HouseView, OwnSize } from '@heliphon/contracts/house';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { type HouseClient, type NodeClient, QUIET, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let node: NodeClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house('producer');
  node = await server.dialAsNode();
});
afterAll(async () => {
  node.close();
  await server.stop();
});

const wanted = ({ programmeId }: EventView) =>
  node.desired?.programmes.find((programme) => programme.programmeId === programmeId);
const setSizes = async (event: EventView, renditions: string) =>
  house.patch<EventView & Problem>(`/api/events/${event.id}`, (await house.current(event)).version, {
    renditions,
  });

describe('the smaller pictures of an event', () => {
  test('are none unless somebody chooses them, and are told to its node', async () => {
    const event = await house.event(600, 660);
    expect(event.renditions).toBe('off');
    await until(() => wanted(event)?.renditions === 'off', 'the programme');
    await setSizes(event, '720p,480p');
    await until(() => Array.isArray(wanted(event)?.renditions), 'the sizes');
    expect(wanted(event)!.renditions).toEqual([
      { heightPx: 720, videoBitrateBps: null },
      { heightPx: 480, videoBitrateBps: null },
    ]);
    await setSizes(event, 'auto');
    await until(() => wanted(event)?.renditions === 'auto', 'the ladder');
    const [last] = (await server.happenings(event.id)).slice(-1);
    await house.post(`/api/happenings/${last!.id}/undo`);
    expect((await house.current(event)).renditions).toBe('720p,480p');
  });

  test.each(['7p', '4320p', '480p,720p', '481p', 'large', '', '1080p,720p,540p,480p,360p'])(
    'are not %p',
    async (renditions) => {
      const event = await house.event(600, 660);
      const refused = await setSizes(event, renditions);
      expect([refused.status, refused.body.fields?.[0]?.path]).toEqual([422, 'renditions']);
    },
  );

  test('are those of its series, unless it has its own', async () => {
    const series = await house.series({ renditions: '360p' });
    const all = (await house.get<Page<EventView>>('/api/events?limit=200')).body.items;
    const dates = all.filter((event) => event.series?.id === series.id);
    expect(dates.length).toBeGreaterThan(1);
    expect(new Set(dates.map(({ renditions }) => renditions))).toEqual(new Set(['360p']));
  });

  test('are named to players while there are some', async () => {
    // Long ahead: nearer to its time it would open its doors by itself, and be another version.
    const event = await house.event(600, 660);
    await setSizes(event, 'auto');
    await house.move(await house.current(event), 'open-doors');
    await house.move(await house.current(event), 'go-on-air');
    const seen = async (): Promise<PublicEvent['playback']> =>
      (await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`)).body.playback;
    expect(await seen()).toMatchObject({ hasSizes: true, main: expect.stringMatching(/\/main\.m3u8$/) });
    await setSizes(event, 'off');
    expect(await seen()).toMatchObject({ hasSizes: false });
    await house.move(await house.current(event), 'end');
  });

  test('are warned of where the node has no room for them', async () => {
    const event = await house.event(600, 660, (await house.source()).id);
    await setSizes(event, '480p');
    const check = async (): Promise<Check> =>
      (await house.get<ReadinessView>(`/api/events/${event.id}/readiness`)).body.checks.find(
        ({ code }) => code === 'sizes',
      )!;
    expect((await check()).status).toBe('later');
    const leftOut = [{ heightPx: 480, why: 'no-room' as const }];
    const making = [{ name: '360p', widthPx: 640, heightPx: 360, videoBitrateBps: 700_000 }];
    const sizes = { choice: 'auto' as const, making, leftOut, shed: [] };
    node.report({ programmes: [{ ...QUIET, programmeId: event.programmeId, state: 'doors', sizes }] });
    await until(async () => (await check()).status === 'warns', 'the warning');
    expect((await check()).detail).toEqual({ kind: 'no-room', names: '480p', made: '360p' });
  });
});

describe('sizes of a house', () => {
  const ownSizes = async (sizes: readonly OwnSize[], by = house) => {
    const { version } = (await by.get<HouseView>('/api/house')).body;
    return by.patch<HouseView & Problem>('/api/house', version, { ownSizes: sizes });
  };

  test('give their rate to events, and can be undone', async () => {
    const owner = await server.house();
    expect((await owner.get<HouseView>('/api/house')).body.ownSizes).toEqual([]);
    await ownSizes([{ heightPx: 540, videoBitrateBps: 900_000 }], owner);
    const event = await owner.event(600, 660);
    await owner.patch(`/api/events/${event.id}`, event.version, { renditions: '540p' });
    await until(() => Array.isArray(wanted(event)?.renditions), 'the size');
    expect(wanted(event)!.renditions).toEqual([{ heightPx: 540, videoBitrateBps: 900_000 }]);
    const [last] = (await server.happenings(owner.houseId)).slice(-1);
    await owner.post(`/api/happenings/${last!.id}/undo`);
    expect((await owner.get<HouseView>('/api/house')).body.ownSizes).toEqual([]);
  });

  test.each<[string, OwnSize[], string, string]>([
    ['8 lines', [{ heightPx: 8, videoBitrateBps: 900_000 }], 'ownSizes.0.heightPx', 'number.min'],
    ['8K', [{ heightPx: 4320, videoBitrateBps: 900_000 }], 'ownSizes.0.heightPx', 'number.max'],
    ['no rate', [{ heightPx: 480, videoBitrateBps: 0 }], 'ownSizes.0.videoBitrateBps', 'number.min'],
    [
      'one twice',
      [540, 540].map((heightPx) => ({ heightPx, videoBitrateBps: 900_000 })),
      'ownSizes.1',
      'array.unique',
    ],
    [
      'what no camera exceeds',
      [{ heightPx: 1440, videoBitrateBps: 900_000 }],
      'ownSizes.0.heightPx',
      'size-not-smaller',
    ],
  ])('are not %s', async (_what, sizes, path, message) => {
    const refused = await ownSizes(sizes, await server.house());
    expect(refused.status).toBe(422);
    expect(refused.body.fields).toEqual([{ path, message }]);
  });

  test('are held against what the strongest node carries', async () => {
    const owner = await server.house();
    node.report({ sizesMostCores: 0.2 });
    await until(async () => {
      const refused = await ownSizes([{ heightPx: 720, videoBitrateBps: 900_000 }], owner);
      return refused.body.fields?.[0]?.message === 'size-too-heavy';
    }, 'the refusal');
  });
});

describe('the size that a place gets', () => {
  const place = async (name: string): Promise<DestinationView> =>
    (
      await house.post<DestinationView>('/api/destinations', {
        name,
        address: 'rtmp://relay.example/live/key',
      })
    ).body;

  test('is chosen at the desk for that place alone, and stays when others are added', async () => {
    const [one, other] = [await place('Relay'), await place('Other relay')];
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { destinationIds: [one.id] });
    const operator = await server.member(house.houseId, 'operator');
    const path = `/api/events/${event.id}/places/${one.id}/size`;
    const chosen = await operator.ask<EventView>('PUT', path, { rendition: '480p' });
    expect(chosen.body.placeSizes).toEqual({ [one.id]: '480p' });
    await until(() => wanted(event)?.destinations[0]?.rendition === '480p', 'the node to hear of it');
    const { version } = await house.current(event);
    await house.patch(`/api/events/${event.id}`, version, { destinationIds: [one.id, other.id] });
    expect((await house.current(event)).placeSizes).toEqual({ [one.id]: '480p' });
    await operator.ask('PUT', path, { rendition: null });
    expect((await house.current(event)).placeSizes).toEqual({});
    expect((await server.happenings(event.id)).filter(({ kind }) => kind === 'place-size')).toHaveLength(2);
  });

  test('is no business of those who do not run the desk, or of another house, and is a size', async () => {
    const one = await place('Third relay');
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { destinationIds: [one.id] });
    const path = `/api/events/${event.id}/places/${one.id}/size`;
    const moderator = await server.member(house.houseId, 'moderator');
    const stranger = await server.house('producer');
    expect((await moderator.ask('PUT', path, { rendition: '480p' })).status).toBe(403);
    expect((await stranger.ask('PUT', path, { rendition: '480p' })).status).toBe(404);
    expect((await house.ask('PUT', path, { rendition: 'large' })).status).toBe(422);
    const nowhere = `/api/events/${event.id}/places/${event.id}/size`;
    expect((await house.ask('PUT', nowhere, { rendition: '480p' })).status).toBe(404);
  });
});
