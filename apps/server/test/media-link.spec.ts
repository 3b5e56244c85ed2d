import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { desiredStateSchema, nodeMessageSchema } from '@heliphon/contracts/control.schema';
import type { DesiredProgramme } from '@heliphon/core/control/desired-state';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { DeskView, EventView, ReadinessView } from '@heliphon/contracts/events';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { SignalView } from '@heliphon/contracts/signal';
import type { SourceView } from '@heliphon/contracts/sources';
import { Database } from '../src/platform/database.js';
import { SignalHistory } from '../src/live/signal-history.js';
import { type HouseClient, type NodeClient, QUIET, ServerDriver, until } from './driver.js';
import { NO_TIMING } from '@heliphon/core/signal/source-timing';

let server: ServerDriver;
let house: HouseClient;
let node: NodeClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
  node = await server.dialAsNode();
});
afterAll(async () => {
  node.close();
  await server.stop();
});

/** The node's programme of an event, once the desired state has it as wanted. */
const programmeOf = (event: EventView, holds: (programme: DesiredProgramme) => boolean = () => true) =>
  until(
    () => node.desired?.programmes.find((p) => p.programmeId === event.programmeId && holds(p)),
    'the desired programme',
  );

const VIDEO = {
  codec: 'avc1.64001f',
  widthPx: 1280,
  heightPx: 720,
  frameRateFps: 30,
  bitrateBps: 2_500_000,
  keyframeIntervalMs: 2000,
  announcedFps: null,
  timing: NO_TIMING,
  blackMs: 0,
  frozenMs: 0,
};
const AUDIO = { codec: 'mp4a.40.2', sampleRateHz: 48_000, channels: 2, bitrateBps: 128_000, loudness: null };

function reportPicture(source: SourceView, over: object = {}): void {
  const report = {
    sinceMs: Date.now(),
    remoteAddress: '10.0.0.9',
    protocol: 'rtmp' as const,
    transport: null,
    encoder: 'Box',
    video: VIDEO,
    audio: AUDIO,
    ...over,
  };
  node.report({ sources: [{ sourceId: source.id, report, pictureTakenAtMs: Date.now() }] });
}

describe('what a source sent', () => {
  const MINUTE_MS = 60_000;
  const send = (event: EventView, source: SourceView, atMs: number, bitrateBps: number): void => {
    const video = { ...VIDEO, bitrateBps };
    const report = {
      sinceMs: 1,
      remoteAddress: 'a',
      protocol: 'rtmp' as const,
      transport: null,
      encoder: '',
      video,
      audio: AUDIO,
    };
    node.report({
      atMs,
      sources: [{ sourceId: source.id, report, pictureTakenAtMs: null }],
      programmes: [{ ...QUIET, programmeId: event.programmeId, sourceId: source.id, viewers: 4 }],
    });
  };

  test('is there second by second, also after a restart, and as a table', async () => {
    const event = await house.event(60, 120);
    const source = await house.source('Strips');
    const doorsAtMs = Math.floor((Date.now() - 5 * MINUTE_MS) / MINUTE_MS) * MINUTE_MS;
    const life = { state: 'air', doorsAtMs, airAtMs: doorsAtMs } as const;
    const { programmeId } = event;
    node.observe(290, { kind: 'programme-moved', programmeId, life, atMs: doorsAtMs });
    await until(() => node.storedSeq === 290, 'it being on air');
    const strips = async (query = ''): Promise<SignalView['samples']> =>
      (await house.get<SignalView>(`/api/events/${event.id}/signal${query}`)).body.samples;
    for (const [afterMs, bitrateBps] of [
      [0, 1_000_000],
      [200, 9_000_000], // of the same second as the one before
      [30_000, 3_000_000],
      [61_000, 5_000_000],
    ] as const)
      send(event, source, doorsAtMs + afterMs, bitrateBps);
    await until(async () => (await strips()).length === 3, 'three samples');
    expect(await strips('?everyMs=60000')).toMatchObject([
      { atMs: doorsAtMs, videoBps: 2_000_000, viewers: 4 },
      { atMs: doorsAtMs + 60_000, videoBps: 5_000_000 },
    ]);
    expect(await strips('?lastMs=1000')).toEqual([]);

    const afterRestart = new SignalHistory(server.app.get(Database));
    const kept = (): Promise<SignalView['samples']> => afterRestart.of(event, doorsAtMs, Date.now());
    await until(async () => (await kept()).length === 2, 'the minute that is over');
    expect((await kept()).map(({ atMs, videoBps }) => [atMs - doorsAtMs, videoBps])).toEqual([
      [0, 1_000_000],
      [30_000, 3_000_000],
    ]);
    // Seconds are let go of one day, and their minutes stay.
    await afterRestart.tidy(Date.now() + 100 * 86_400_000);
    expect(await kept()).toMatchObject([{ atMs: doorsAtMs, videoBps: 2_000_000 }]);

    const { body: text } = await house.get<string>(`/api/events/${event.id}/signal.csv`);
    const [head, first] = text.split('\r\n');
    expect(head).toMatch(/^at,videoBps,audioBps,/);
    expect(first).toMatch(new RegExp(`^${new Date(doorsAtMs).toISOString()},1000000,128000,30,`));
  });
});

describe('what viewers had', () => {
  test('is told by the node, and read from the doors until now', async () => {
    const event = await house.event(60, 120);
    const { programmeId } = event;
    const doorsAtMs = Date.now() - 60_000;
    const at = (seconds: number): number => doorsAtMs + seconds * 1000;
    const sourceId = randomUUID();
    const life = { state: 'air', doorsAtMs, airAtMs: at(10) } as const;
    node.observe(301, { kind: 'programme-moved', programmeId, life, atMs: at(10) });
    const have = { kind: 'picture', sourceId } as const;
    const nothing = { kind: 'nothing' } as const;
    node.observe(302, { kind: 'viewers-have', programmeId, have: nothing, atMs: doorsAtMs });
    node.observe(303, { kind: 'viewers-have', programmeId, have, atMs: at(12) });
    node.observe(304, { kind: 'viewers-have', programmeId, have: nothing, atMs: at(40) });
    node.observe(305, { kind: 'viewers-have', programmeId, have: { kind: 'slate' }, atMs: at(42) });
    node.observe(306, { kind: 'viewers-have', programmeId, have, atMs: at(45) });
    await until(() => node.storedSeq === 306, 'all being stored');
    const { viewersHad } = (await house.get<SignalView>(`/api/events/${event.id}/signal`)).body;
    expect(viewersHad.slice(0, 4)).toEqual([
      { kind: 'nothing', fromMs: doorsAtMs, toMs: at(12) },
      { kind: 'picture', sourceId, fromMs: at(12), toMs: at(40) },
      { kind: 'nothing', fromMs: at(40), toMs: at(42) },
      { kind: 'slate', fromMs: at(42), toMs: at(45) },
    ]);
    expect(viewersHad[4]).toMatchObject({ kind: 'picture', fromMs: at(45) });
    expect(viewersHad[4]!.toMs).toBeGreaterThanOrEqual(at(60));
  });

  test('is not guessed where the node has told nothing: before the doors, and of events from before it told', async () => {
    const event = await house.event(60, 120);
    const doorsAtMs = Date.now() - 60_000;
    const life = { state: 'air', doorsAtMs, airAtMs: doorsAtMs } as const;
    const { programmeId } = event;
    node.observe(310, { kind: 'programme-moved', programmeId, life, atMs: doorsAtMs });
    await until(() => node.storedSeq === 310, 'it being stored');
    const { body } = await house.get<SignalView>(`/api/events/${event.id}/signal`);
    expect(body.viewersHad).toEqual([]);
  });
});

describe('the desired state', () => {
  test('keeps to its contract, and its revision rises with every change', async () => {
    const first = await until(() => node.desired, 'a first state');
    expect(desiredStateSchema.validate(first).error).toBeUndefined();
    await house.source('One more');
    const next = await until(() => node.desired!.revision > first.revision && node.desired, 'a newer state');
    expect(desiredStateSchema.validate(next).error).toBeUndefined();
  });

  test('holds instants, not phases: doors, air, stop, and the end whatever comes', async () => {
    const event = await house.event(60, 120);
    const { plan, command } = await programmeOf(event);
    expect(plan).toEqual({
      doorsAtMs: event.startsAtMs - 15 * 60_000,
      airAtMs: event.startsAtMs,
      stopAtMs: event.stopsAtMs,
      hardStopAtMs: event.stopsAtMs + 30 * 60_000,
      deadAirMs: 600_000,
    });
    expect(command).toBeNull();
  });

  test('carries the last command once it was given by hand', async () => {
    const event = await house.event(60, 120);
    const commandId = randomUUID();
    await house.move(event, 'open-doors', commandId);
    const { command } = await programmeOf(event, (programme) => programme.command !== null);
    expect(command).toMatchObject({ commandId, kind: 'open-doors' });
  });

  test('gives the node a place’s whole address, which nobody else gets', async () => {
    const { body: place } = await house.post<DestinationView>('/api/destinations', {
      name: 'Relay',
      address: 'rtmp://relay.example:1936/live/very-secret',
    });
    const event = await house.event(60, 120);
    await house.patch(`/api/events/${event.id}`, event.version, { destinationIds: [place.id] });
    const { destinations } = await programmeOf(event, (programme) => programme.destinations.length === 1);
    expect(destinations).toEqual([
      {
        destinationId: place.id,
        address: 'rtmp://relay.example:1936/live/very-secret',
        rendition: null,
      },
    ]);
    expect(JSON.stringify(await server.happenings(place.id))).not.toContain('very-secret');
    expect(await house.delete(`/api/destinations/${place.id}`)).toMatchObject({
      status: 409,
      body: { code: 'place-in-use' },
    });
  });

  test('a place that is pasted again reaches the node with its new key', async () => {
    const { body: place } = await house.post<DestinationView>('/api/destinations', {
      name: 'Town',
      address: 'rtmp://town.example/live/old',
    });
    const event = await house.event(60, 120);
    await house.patch(`/api/events/${event.id}`, event.version, { destinationIds: [place.id] });
    await programmeOf(event, (programme) => programme.destinations[0]?.address.endsWith('/old') ?? false);
    await house.patch(`/api/destinations/${place.id}`, place.version, {
      address: 'rtmp://town.example/live/new',
    });
    await programmeOf(event, (programme) => programme.destinations[0]?.address.endsWith('/new') ?? false);
  });

  test('does not name what is far ahead, nor what was deleted', async () => {
    const far = await house.event(60 * 24 * 4, 60 * 24 * 4 + 60);
    const near = await house.event(60, 120);
    await programmeOf(near);
    expect(node.desired!.programmes.some((p) => p.programmeId === far.programmeId)).toBe(false);
    await house.delete(`/api/events/${near.id}`);
    await until(
      () => !node.desired!.programmes.some((p) => p.programmeId === near.programmeId),
      'it to be gone',
    );
  });

  test('tells the clock’s offset, so that a node under test keeps the server’s time', async () => {
    await server.setClock(120_000);
    await until(() => node.desired?.clockOffsetMs === 120_000, 'the offset');
    await server.setClock(0);
    await until(() => node.desired?.clockOffsetMs === 0, 'no offset');
  });
});

describe('what a node says', () => {
  test('what keeps to no contract is passed over, and the link stays', async () => {
    for (const wrong of [
      {},
      { type: 'figures' },
      { type: 'here', self: { place: 'x'.repeat(61) } },
      { type: 'observed', entries: [{ journalSeq: -1 }] },
      { type: 'orders' },
    ]) {
      expect(nodeMessageSchema.validate(wrong).error).toBeDefined();
      node.say(wrong);
    }
    const { revision } = await until(() => node.desired, 'a state');
    await house.source('Still listening');
    await until(() => node.desired!.revision > revision, 'another state on the same link');
  });

  test('encoders that come, go and are refused stand in the house’s record', async () => {
    const source = await house.source('Watched');
    const remoteAddress = '10.0.0.9';
    node.observe(501, { kind: 'source-came', sourceId: source.id, protocol: 'rtmp', remoteAddress, atMs: 1 });
    node.observe(502, {
      kind: 'source-refused',
      sourceId: source.id,
      reason: 'wrong-password',
      remoteAddress,
      atMs: 2,
    });
    node.observe(503, { kind: 'source-went', sourceId: source.id, reason: 'encoder-stopped', atMs: 3 });
    node.observe(504, {
      kind: 'source-refused',
      sourceId: null,
      reason: 'unknown-key',
      remoteAddress,
      atMs: 4,
    });
    await until(() => node.storedSeq === 504, 'all to be stored');
    const kinds = (await server.happenings(source.id)).map(({ kind }) => kind);
    expect(kinds).toEqual(['source-added', 'source-came', 'source-refused', 'source-went']);
  });

  test('what is said of things that are gone is stored and forgotten', async () => {
    node.observe(600, { kind: 'source-went', sourceId: randomUUID(), reason: 'connection-broke', atMs: 1 });
    await until(() => node.storedSeq === 600, 'it to be stored');
  });
});

describe('readiness', () => {
  const statusOf = async (event: EventView, code: string): Promise<string | undefined> =>
    (await house.get<ReadinessView>(`/api/events/${event.id}/readiness`)).body.checks.find(
      (check) => check.code === code,
    )?.status;

  test('follows what really arrives', async () => {
    const source = await house.source('Hall camera');
    const event = await house.event(10, 60, source.id);
    expect(await statusOf(event, 'source-here')).toBe('stops');
    reportPicture(source);
    await until(async () => (await statusOf(event, 'source-here')) === 'passed', 'the picture');
    expect(await statusOf(event, 'sound')).toBe('passed');
    reportPicture(source, { audio: null });
    await until(async () => (await statusOf(event, 'sound')) === 'warns', 'the silence');
  });

  test('counts in the list what is still to do', async () => {
    const event = await house.event(600, 660);
    expect(event.openChecks).toBe(2); // no source, no poster
  });
});

describe('playback', () => {
  test('the desk gets a grant of its own class, the public none before air', async () => {
    const event = await house.event(60, 120);
    const desk = await house.get<DeskView>(`/api/events/${event.id}/desk`);
    expect(desk.body.hls).toMatch(new RegExp(`/p/${event.programmeId}/v1\\.desk\\.[^/]+/live\\.m3u8$`));
    const shown = await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`);
    expect(shown.body).toMatchObject({
      state: 'planned',
      playback: null,
      signal: null,
      chat: { state: 'before' },
    });
  });

  test('the public state tells the signal as the node does, and nothing when it does not know', async () => {
    const event = await house.event(60, 120);
    const air = (await house.move(event, 'go-on-air')).body;
    node.report({
      programmes: [
        {
          ...QUIET,
          programmeId: air.programmeId,
          signal: { present: false, sinceMs: 5 },
          viewers: 3,
        },
      ],
    });
    const told = await until(async () => {
      const { body } = await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`);
      return body.signal && body;
    }, 'the signal');
    expect(told.signal).toEqual({ present: false, sinceMs: 5 });
    expect(told.playback?.kind).toBe('live');
    const later = await until(async () => {
      const { body } = await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`);
      return body.signal === null && body;
    }, 'the node to be unheard of');
    expect(later.state).toBe('air');
  });

  test('every viewer of an event gets the same address, so that a cache can serve them all', async () => {
    const event = (await house.move(await house.event(60, 120), 'go-on-air')).body;
    const ask = async (): Promise<string> =>
      (await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`)).body.playback!.hls;
    expect(await ask()).toBe(await ask());
  });
});

test('the console’s pages come from any address, and only embeds may be framed by others', async () => {
  const page = async (path: string) => fetch(server.url + path);
  expect(await (await page('/sources')).text()).toContain('<title>index</title>');
  const watch = await page('/watch/anything');
  expect(await watch.text()).toContain('<title>watch</title>');
  expect(watch.headers.get('x-frame-options')).toBe('SAMEORIGIN');
  const embed = await page('/embed/anything');
  expect(await embed.text()).toContain('<title>embed</title>');
  expect(embed.headers.get('x-frame-options')).toBeNull();
  expect((await page('/api/nothing-here')).status).toBe(404);
  expect((await page('/assets/nothing.js')).status).toBe(404);
});
