import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { WebSocket } from 'ws';
import type { DesiredProgramme, DesiredState } from '@heliphon/core/control/desired-state';
import type { ProgrammeFigures, SourceFigures } from '@heliphon/core/control/observations';
import type { RecordingView } from '@heliphon/contracts/house';
import type { PointView } from '@heliphon/contracts/nodes';
import type { EventView, ReadinessView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { SendingLine } from '@heliphon/contracts/lines';
import type { SourceKey, SourceView } from '@heliphon/contracts/sources';
import { EventEntity } from '../src/events/event.entity.js';
import { Database } from '../src/platform/database.js';
import { SourceEntity } from '../src/sources/source.entity.js';
import { SourcesService } from '../src/sources/sources.service.js';
import { RemovalEntity } from '../src/recordings/recording.entity.js';
import { sha256Hex } from '../src/platform/ids.js';
import { type HouseClient, NODE_SECRET, type NodeClient, ServerDriver, until } from './driver.js';

const HILL = { nodeId: 'hill', secret: 'h'.repeat(40) };
const QUAY = { nodeId: 'n1', secret: NODE_SECRET };
/** Nothing answers there. */
const NOWHERE = 'http://127.0.0.1:9';

let server: ServerDriver;
let house: HouseClient;
let quay: NodeClient;
let hill: NodeClient;

const introduceQuay = (node: NodeClient): void =>
  node.introduce({ place: 'Quay House', mediaUrl: NOWHERE, rtmpUrl: 'rtmp://quay.example' });

beforeAll(async () => {
  server = await ServerDriver.start({
    nodes: [QUAY, HILL].map(({ nodeId, secret }) => ({ nodeId, secretSha256Hex: sha256Hex(secret) })),
  });
  house = await server.house();
  quay = await server.dialAsNode();
  hill = await server.dialAsNode(HILL.secret, HILL.nodeId);
  introduceQuay(quay);
  hill.introduce({ place: 'Hill House', mediaUrl: 'https://hill.example', mediaPort: 4611, rtmpPort: 1936 });
  quay.keepReporting();
  hill.keepReporting();
  await until(async () => (await points()).every(({ presence }) => presence === 'here'), 'both nodes');
});
afterAll(async () => {
  quay.close();
  hill.close();
  await server.stop();
});

const points = async (client = house): Promise<PointView[]> =>
  (await client.get<{ items: PointView[] }>('/api/points')).body.items;
const keyOf = async (source: SourceView): Promise<SourceKey> =>
  (await house.get<SourceKey>(`/api/sources/${source.id}/key`)).body;
const choose = (source: SourceView, nodeId: string | null) =>
  house.patch<SourceView & Problem>(`/api/sources/${source.id}`, source.version, { nodeId });
const publicly = async (event: EventView): Promise<PublicEvent> =>
  (await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`)).body;

/** A node's programme of an event, once it is wanted of it as described. */
const wantedOf = (
  node: NodeClient,
  event: EventView,
  holds: (programme: DesiredProgramme) => boolean = () => true,
): Promise<DesiredProgramme> =>
  until(
    () => node.desired?.programmes.find((one) => one.programmeId === event.programmeId && holds(one)),
    'the programme to be wanted',
  );
const stateOf = (node: NodeClient, holds: (state: DesiredState) => boolean): Promise<DesiredState> =>
  until(() => node.desired && holds(node.desired) && node.desired, 'the desired state');

const arriving = (source: SourceView, frameRateFps = 25): SourceFigures => ({
  sourceId: source.id,
  report: {
    sinceMs: Date.now(),
    remoteAddress: '10.0.0.9',
    protocol: 'rtmp',
    transport: null,
    encoder: 'Box',
    video: {
      codec: 'avc1.64001f',
      widthPx: 1280,
      heightPx: 720,
      frameRateFps,
      bitrateBps: frameRateFps * 100_000,
      keyframeIntervalMs: 2000,
      blackMs: 0,
      frozenMs: 0,
    },
    audio: null,
  },
  pictureTakenAtMs: Date.now(),
});
const running = (event: EventView, present = true): ProgrammeFigures => ({
  programmeId: event.programmeId,
  state: 'air',
  signal: { present, sinceMs: Date.now() },
  filmLeftMs: null,
  viewers: 3,
  keptMs: 0,
  recordingStopped: null,
  destinations: [],
});

/** On air at a point, where its source is to arrive. */
async function onAirAt(nodeId: string): Promise<{ event: EventView; source: SourceView }> {
  const source = (await choose(await house.source(), nodeId)).body;
  const planned = await house.event(60, 120, source.id);
  const event = (await house.move(planned, 'go-on-air')).body;
  const { installation } = server.app.get(Database);
  await until(() => installation.findOneBy(EventEntity, { id: event.id, nodeId }), 'it to be placed');
  return { source, event };
}

describe('an ingest point', () => {
  test('says itself where it stands and how it is reached; what it does not say is on the machine that was asked', async () => {
    const source = (await choose(await house.source(), 'hill')).body;
    expect(await keyOf(source)).toMatchObject({
      point: { nodeId: 'hill', place: 'Hill House' },
      address: 'rtmp://127.0.0.1:1936/in',
      whip: 'https://hill.example/whip',
      second: { point: { nodeId: 'n1', place: 'Quay House' }, address: 'rtmp://quay.example/in' },
    });
  });

  test('where nobody chose, a source sends to the first one', async () => {
    expect((await keyOf(await house.source())).point?.nodeId).toBe('n1');
  });

  test('a browser gets them all, to find the nearest: first the one chosen for the source', async () => {
    const source = (await choose(await house.source(), 'hill')).body;
    const { body } = await house.post<SendingLine>(`/api/sources/${source.id}/lines`);
    expect(body.points.map(({ nodeId, sendUrl, reachUrl }) => [nodeId, sendUrl, reachUrl])).toEqual([
      ['hill', 'wss://hill.example/send/v1', 'https://hill.example/reach'],
      ['n1', 'ws://127.0.0.1:9/send/v1', `${NOWHERE}/reach`],
    ]);
  });

  test('one that is none of ours is refused; a choice can be taken back', async () => {
    const source = await house.source();
    const refused = await choose(source, 'mill');
    expect(refused.status).toBe(422);
    expect(refused.body.fields).toEqual([{ path: 'nodeId', message: 'unknown-point' }]);
    await choose(source, 'hill');
    await house.post('/api/happenings/undo-last', { subjectId: source.id });
    expect((await keyOf(source)).point?.nodeId).toBe('n1');
  });

  test('is shown with what it has to do for this house, and nothing of what others have there', async () => {
    const stranger = await server.house();
    const theirs = await stranger.source();
    const own = await house.source();
    hill.keepReporting({ load: 0.42, disk: 'low', sources: [arriving(own), arriving(theirs)] });
    const shown = (client: HouseClient) =>
      until(async () => (await points(client)).find(({ now }) => now?.disk === 'low'), 'its figures');
    expect(await shown(house)).toMatchObject({
      nodeId: 'hill',
      place: 'Hill House',
      presence: 'here',
      now: { load: 0.42, sources: 1, programmes: 0, viewers: 0 },
    });
    expect((await shown(stranger)).now).toMatchObject({ load: 0.42, sources: 1 });
    hill.keepReporting();
  });

  test('one whose disk is full is offered to nobody, unless it was chosen', async () => {
    hill.keepReporting({ disk: 'full' });
    const source = await house.source();
    await until(async () => (await keyOf(source)).second === null, 'it to be left out');
    expect((await keyOf((await choose(source, 'hill')).body)).point?.nodeId).toBe('hill');
    hill.keepReporting();
  });

  test('pages may load from each of them, and from nowhere else', async () => {
    const { headers } = await server.anybody().get('/watch/anything');
    const policy = headers.get('content-security-policy')!;
    expect(policy).toContain(`media-src 'self' blob: ${NOWHERE} https://hill.example;`);
    expect(policy).toContain('wss://hill.example');
  });

  test('nobody outside the house hears of them', async () => {
    expect((await server.anybody().get('/api/points')).status).toBe(401);
  });
});

describe('a node that comes by another’s name', () => {
  const dial = (nodeId: string, secret: string): Promise<number> =>
    new Promise((resolve) => {
      const headers = { authorization: `Node ${nodeId}:${secret}` };
      const socket = new WebSocket(`${server.url.replace('http', 'ws')}/control/v1`, { headers });
      socket.on('error', () => undefined);
      socket.once('open', () => resolve(101));
      socket.once('unexpected-response', (_request, { statusCode }) => resolve(statusCode!));
    });

  test('is turned away while that one is there, disturbs nobody, and the house is told', async () => {
    expect(await dial('hill', HILL.secret)).toBe(409);
    const [, told] = await points();
    expect(told).toMatchObject({
      presence: 'here',
      double: { remoteAddress: expect.stringContaining('127.0.0.1') },
    });
    await stateOf(hill, ({ revision }) => revision > 0);
  });

  test('is let in once the first does not answer any more', async () => {
    const frozen = await server.dialAsNode(HILL.secret, HILL.nodeId).catch(() => null);
    expect(frozen).toBeNull();
    hill.freeze();
    const next = await server.dialAsNode(HILL.secret, HILL.nodeId);
    next.keepReporting();
    await until(() => next.desired, 'its desired state');
    hill.close();
    hill = next;
  });

  test('without the right secret nobody is let in', async () => {
    expect(await dial('hill', 'x'.repeat(40))).toBe(401);
    expect(await dial('mill', HILL.secret)).toBe(401);
  });
});

describe('an event', () => {
  test('waits at the point of its source, and at no other', async () => {
    const source = (await choose(await house.source(), 'hill')).body;
    const event = await house.event(60, 120, source.id);
    expect((await wantedOf(hill, event)).takenOver).toBeNull();
    await stateOf(quay, ({ revision }) => revision >= hill.desired!.revision);
    expect(quay.desired!.programmes.map(({ programmeId }) => programmeId)).not.toContain(event.programmeId);
    expect(quay.desired!.elsewhere).not.toContain(event.programmeId);
  });

  test('before its doors it goes to wherever its source arrives', async () => {
    const source = await house.source();
    const event = await house.event(60, 120, source.id);
    await wantedOf(quay, event);
    hill.keepReporting({ sources: [arriving(source)] });
    await until(async () => (await points())[1]!.now?.sources === 1, 'the source at Hill House');
    await house.source('Something changes');
    await wantedOf(hill, event);
    hill.keepReporting();
  });

  test('on air it plays from its node, and is told elsewhere at the other', async () => {
    const { event } = await onAirAt('hill');
    await wantedOf(hill, event, ({ command }) => command?.kind === 'go-on-air');
    await stateOf(quay, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    expect((await publicly(event)).playback!.hls).toMatch(/^https:\/\/hill\.example\/p\//);
    hill.keepReporting({ programmes: [running(event)] });
    await until(async () => (await publicly(event)).signal?.present, 'its picture');
    hill.keepReporting();
  });

  test('its node alone tells of it', async () => {
    const { event } = await onAirAt('hill');
    await stateOf(quay, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    const life = { state: 'kept', doorsAtMs: 1, airAtMs: 2, endAtMs: 3, cause: 'dead-air' } as const;
    const seq = quay.storedSeq + 1;
    quay.observe(seq, { kind: 'programme-moved', programmeId: event.programmeId, life, atMs: Date.now() });
    await until(() => quay.storedSeq === seq, 'the word of the other node');
    expect((await house.current(event)).state).toBe('air');
  });

  test('follows its source to another node while it is on air, though a dead connection stands where it was', async () => {
    const { event, source } = await onAirAt('n1');
    await wantedOf(quay, event);
    await stateOf(hill, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    quay.keepReporting({ sources: [arriving(source, 0)] });
    hill.keepReporting({ sources: [arriving(source)] });
    const { takenOver } = await wantedOf(hill, event);
    expect(takenOver).toMatchObject({ leg: 1, life: { state: 'air', airAtMs: event.airAtMs } });
    quay.keepReporting();
    hill.keepReporting();
  });
});

describe('a box that sends', () => {
  test('is left where it arrives, though another point is chosen for it', async () => {
    const source = (await choose(await house.source(), 'hill')).body;
    const row = await server.app.get(Database).installation.findOneByOrFail(SourceEntity, { id: source.id });
    const told = () => server.app.get(SourcesService).keyOfSending(row, '127.0.0.1:80').point?.nodeId;
    expect(told()).toBe('hill');
    quay.keepReporting({ sources: [arriving(source)] });
    await until(() => told() === 'n1', 'it to be left alone');
    quay.keepReporting();
  });
});

describe('a node that goes away', () => {
  test('is given up when it neither reports nor answers: its event goes on at the other, and everybody is told', async () => {
    const { event, source } = await onAirAt('n1');
    const before = await publicly(event);
    await wantedOf(quay, event);
    await stateOf(hill, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    quay.close();
    const { takenOver } = await wantedOf(hill, event);
    expect(takenOver).toMatchObject({ leg: 1, life: { state: 'air' } });
    const after = await publicly(event);
    expect(after.playback!.hls).toMatch(/^https:\/\/hill\.example\//);
    // Nobody's open form is refused by it.
    expect(after.seq).toBe(before.seq);
    const told = (await server.happenings(event.id)).find(({ kind }) => kind === 'event-went-over');
    expect(told).toMatchObject({
      before: { ingestPoint: 'Quay House' },
      after: { ingestPoint: 'Hill House' },
    });
    expect((await points())[0]).toMatchObject({ presence: 'away', now: null });

    // Its source is told where to go.
    expect(await keyOf(source)).toMatchObject({ point: { nodeId: 'hill' }, second: null });
    const { body } = await house.get<ReadinessView>(`/api/events/${event.id}/readiness`);
    expect(body.checks.find(({ code }) => code === 'source-here')?.detail).toMatchObject({
      gone: 'Quay House',
      sendTo: 'Hill House',
    });

    // Back again, it has to let go, and its part is fetched once the event is over.
    quay = await server.dialAsNode();
    introduceQuay(quay);
    quay.keepReporting({ programmes: [running(event, false)] });
    await stateOf(quay, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    await stays(event);
  });

  /** What it had of the recording is put to the rest. */
  async function stays(event: EventView): Promise<void> {
    const { programmeId } = event;
    await house.move(await house.current(event), 'end');
    let seq = hill.storedSeq;
    const observe = async (observation: Parameters<NodeClient['observe']>[1]): Promise<void> => {
      seq += 1;
      hill.observe(seq, observation);
      await until(() => hill.storedSeq === seq, `${observation.kind} to be stored`);
    };
    const recording = async (): Promise<RecordingView> => {
      const { body } = await house.get<Page<RecordingView>>('/api/recordings');
      return body.items.find(({ eventId }) => eventId === event.id)!;
    };
    await observe({
      kind: 'recording-kept',
      programmeId,
      durationMs: 40_000,
      sizeBytes: 4e6,
      atMs: Date.now(),
    });
    expect(await recording()).toMatchObject({ durationMs: 40_000, awaitedFrom: ['Quay House'] });

    const { joins } = await stateOf(hill, (state) => state.joins.length > 0);
    expect(joins).toEqual([
      {
        programmeId,
        houseId: house.houseId,
        nodeId: 'n1',
        address: expect.stringMatching(new RegExp(`^${NOWHERE}/p/${programmeId}/v1\\.desk\\.`)),
      },
    ]);
    await observe({
      kind: 'recording-kept',
      programmeId,
      durationMs: 90_000,
      sizeBytes: 9e6,
      atMs: Date.now(),
    });
    await observe({ kind: 'recording-joined', programmeId, nodeId: 'n1', atMs: Date.now() });
    expect(await recording()).toMatchObject({ durationMs: 90_000, sizeBytes: 9e6, awaitedFrom: [] });
    await house.source('Something changes');
    await stateOf(hill, (state) => state.joins.length === 0);

    // Deleted for good, it goes from both disks.
    const { id } = await recording();
    await house.post(`/api/recordings/${id}/bin`);
    await house.delete(`/api/recordings/${id}`);
    for (const node of [quay, hill])
      await stateOf(node, ({ removedRecordings }) =>
        removedRecordings.some((one) => one.programmeId === programmeId),
      );
    await observe({ kind: 'recording-removed', programmeId, atMs: Date.now() });
    const left = await server.app.get(Database).installation.findBy(RemovalEntity, { programmeId });
    expect(left.map(({ nodeId }) => nodeId)).toEqual(['n1']);
  }

  describe('that still answers viewers', () => {
    let origin: Server;
    /** What stands at its address. */
    let said = 'n1';
    afterAll(() => void origin.close());

    test('keeps its event: only its way to us is broken, and its encoder is there', async () => {
      origin = createServer((_request, response) => response.end(said));
      await new Promise<void>((resolve) => origin.listen(0, '127.0.0.1', resolve));
      const { port } = origin.address() as AddressInfo;
      quay.introduce({ place: 'Quay House', mediaUrl: `http://127.0.0.1:${port}` });
      const asked = new Promise((resolve) => origin.once('request', resolve));
      const { event } = await onAirAt('n1');
      await wantedOf(quay, event);
      quay.close();
      await asked;
      await house.source('Something changes');
      const { revision } = hill.desired!;
      await stateOf(hill, (state) => state.revision > revision);
      expect(hill.desired!.elsewhere).toContain(event.programmeId);
      expect((await points())[0]!.presence).toBe('silent');
      expect((await publicly(event)).playback!.hls).toContain(`127.0.0.1:${port}`);

      // A page of somebody else at the same address is no sign of life.
      said = '<title>Welcome</title>';
      expect((await wantedOf(hill, event)).takenOver?.leg).toBe(1);
    });
  });
});
