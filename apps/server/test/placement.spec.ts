import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DesiredProgramme } from '@heliphon/core/control/desired-state';
import type { ToldProgramme } from '@heliphon/core/control/observations';
import type { EventView, ReadinessView } from '@heliphon/contracts/events';
import type { RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { SourceView } from '@heliphon/contracts/sources';
import { EventEntity } from '../src/tables/event.entity.js';
import { Database } from '../src/platform/database.js';
import { RemovalEntity } from '../src/tables/recording.entity.js';
import { type NodeClient, QUIET, until } from './driver.js';
import { arriving, NOWHERE, stateOf, TwoNodes } from './two-nodes.js';

let two: TwoNodes;
beforeAll(async () => {
  two = await TwoNodes.start();
});
afterAll(() => two.stop());

const publicly = async (event: EventView): Promise<PublicEvent> =>
  (await two.server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`)).body;

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
const running = (event: EventView, present = true): ToldProgramme => ({
  ...QUIET,
  programmeId: event.programmeId,
  signal: { present, sinceMs: Date.now() },
  viewers: 3,
});

/** On air at a point, where its source is to arrive. */
async function onAirAt(nodeId: string): Promise<{ event: EventView; source: SourceView }> {
  const source = (await two.choose(await two.house.source(), nodeId)).body;
  const planned = await two.house.event(60, 120, source.id);
  const event = (await two.house.move(planned, 'go-on-air')).body;
  const { installation } = two.server.app.get(Database);
  await until(() => installation.findOneBy(EventEntity, { id: event.id, nodeId }), 'it to be placed');
  return { source, event };
}

describe('an event', () => {
  test('waits at the point of its source, and at no other', async () => {
    const source = (await two.choose(await two.house.source(), 'hill')).body;
    const event = await two.house.event(60, 120, source.id);
    expect((await wantedOf(two.hill, event)).takenOver).toBeNull();
    await stateOf(two.quay, ({ revision }) => revision >= two.hill.desired!.revision);
    expect(two.quay.desired!.programmes.map(({ programmeId }) => programmeId)).not.toContain(
      event.programmeId,
    );
    expect(two.quay.desired!.elsewhere).not.toContain(event.programmeId);
  });

  test('before its doors it goes to wherever its source arrives', async () => {
    const source = await two.house.source();
    const event = await two.house.event(60, 120, source.id);
    await wantedOf(two.quay, event);
    two.hill.keepReporting({ sources: [arriving(source)] });
    await until(async () => (await two.points())[1]!.now?.sources === 1, 'the source at Hill House');
    await two.house.source('Something changes');
    await wantedOf(two.hill, event);
    two.hill.keepReporting();
  });

  test('on air it plays from its node, and is told elsewhere at the other', async () => {
    const { event } = await onAirAt('hill');
    await wantedOf(two.hill, event, ({ command }) => command?.kind === 'go-on-air');
    await stateOf(two.quay, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    expect((await publicly(event)).playback!.hls).toMatch(/^https:\/\/hill\.example\/p\//);
    two.hill.keepReporting({ programmes: [running(event)] });
    await until(async () => (await publicly(event)).signal?.present, 'its picture');
    two.hill.keepReporting();
  });

  test('its node alone tells of it', async () => {
    const { event } = await onAirAt('hill');
    await stateOf(two.quay, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    const life = { state: 'kept', doorsAtMs: 1, airAtMs: 2, endAtMs: 3, cause: 'dead-air' } as const;
    const seq = two.quay.storedSeq + 1;
    two.quay.observe(seq, {
      kind: 'programme-moved',
      programmeId: event.programmeId,
      life,
      atMs: Date.now(),
    });
    await until(() => two.quay.storedSeq === seq, 'the word of the other node');
    expect((await two.house.current(event)).state).toBe('air');
  });

  test('follows its source to another node while it is on air, though a dead connection stands where it was', async () => {
    const { event, source } = await onAirAt('n1');
    await wantedOf(two.quay, event);
    await stateOf(two.hill, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    two.quay.keepReporting({ sources: [arriving(source, 0)] });
    two.hill.keepReporting({ sources: [arriving(source)] });
    const { takenOver } = await wantedOf(two.hill, event);
    expect(takenOver).toMatchObject({ leg: 1, life: { state: 'air', airAtMs: event.airAtMs } });
    two.quay.keepReporting();
    two.hill.keepReporting();
  });
});

describe('a node that goes away', () => {
  test('is given up when it neither reports nor answers: its event goes on at the other, and everybody is told', async () => {
    const { event, source } = await onAirAt('n1');
    const before = await publicly(event);
    await wantedOf(two.quay, event);
    await stateOf(two.hill, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    two.quay.close();
    const { takenOver } = await wantedOf(two.hill, event);
    expect(takenOver).toMatchObject({ leg: 1, life: { state: 'air' } });
    const after = await publicly(event);
    expect(after.playback!.hls).toMatch(/^https:\/\/hill\.example\//);
    // Nobody's open form is refused by it.
    expect(after.seq).toBe(before.seq);
    const told = (await two.server.happenings(event.id)).find(({ kind }) => kind === 'event-went-over');
    expect(told).toMatchObject({
      before: { ingestPoint: 'Quay House' },
      after: { ingestPoint: 'Hill House' },
    });
    expect((await two.points())[0]).toMatchObject({ presence: 'away', now: null });

    // Its source is told where to go.
    expect(await two.keyOf(source)).toMatchObject({ point: { nodeId: 'hill' }, second: null });
    const { body } = await two.house.get<ReadinessView>(`/api/events/${event.id}/readiness`);
    expect(body.checks.find(({ code }) => code === 'source-here')?.detail).toMatchObject({
      gone: 'Quay House',
      sendTo: 'Hill House',
    });

    // Back again, it has to let go, and its part is fetched once the event is over.
    two.quay = await two.server.dialAsNode();
    two.introduceQuay();
    two.quay.keepReporting({ programmes: [running(event, false)] });
    await stateOf(two.quay, ({ elsewhere }) => elsewhere.includes(event.programmeId));
    await stays(event);
  });

  /** What it had of the recording is put to the rest. */
  async function stays(event: EventView): Promise<void> {
    const { programmeId } = event;
    await two.house.move(await two.house.current(event), 'end');
    let seq = two.hill.storedSeq;
    const observe = async (observation: Parameters<NodeClient['observe']>[1]): Promise<void> => {
      seq += 1;
      two.hill.observe(seq, observation);
      await until(() => two.hill.storedSeq === seq, `${observation.kind} to be stored`);
    };
    const recording = async (): Promise<RecordingView> => {
      const { body } = await two.house.get<Page<RecordingView>>('/api/recordings');
      return body.items.find(({ eventId }) => eventId === event.id)!;
    };
    await observe({
      kind: 'recording-kept',
      loudness: null,
      gapsMs: 0,
      programmeId,
      durationMs: 40_000,
      sizeBytes: 4e6,
      atMs: Date.now(),
    });
    expect(await recording()).toMatchObject({ durationMs: 40_000, awaitedFrom: ['Quay House'] });

    const { joins } = await stateOf(two.hill, (state) => state.joins.length > 0);
    expect(joins).toEqual([
      {
        programmeId,
        houseId: two.house.houseId,
        nodeId: 'n1',
        address: expect.stringMatching(new RegExp(`^${NOWHERE}/p/${programmeId}/v1\\.desk\\.`)),
      },
    ]);
    const longer = { durationMs: 90_000, sizeBytes: 9e6 };
    await observe({
      kind: 'recording-kept',
      loudness: null,
      gapsMs: 0,
      programmeId,
      ...longer,
      atMs: Date.now(),
    });
    await observe({ kind: 'recording-joined', programmeId, nodeId: 'n1', atMs: Date.now() });
    expect(await recording()).toMatchObject({ durationMs: 90_000, sizeBytes: 9e6, awaitedFrom: [] });
    await two.house.source('Something changes');
    await stateOf(two.hill, (state) => state.joins.length === 0);

    // Deleted for good, it goes from both disks.
    const { id } = await recording();
    await two.house.post(`/api/recordings/${id}/bin`);
    await two.house.delete(`/api/recordings/${id}`);
    for (const node of [two.quay, two.hill])
      await stateOf(node, ({ removedRecordings }) =>
        removedRecordings.some((one) => one.programmeId === programmeId),
      );
    await observe({ kind: 'recording-removed', programmeId, atMs: Date.now() });
    const left = await two.server.app.get(Database).installation.findBy(RemovalEntity, { programmeId });
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
      two.quay.introduce({ place: 'Quay House', mediaUrl: `http://127.0.0.1:${port}` });
      const asked = new Promise((resolve) => origin.once('request', resolve));
      const { event } = await onAirAt('n1');
      await wantedOf(two.quay, event);
      two.quay.close();
      await asked;
      await two.house.source('Something changes');
      const { revision } = two.hill.desired!;
      await stateOf(two.hill, (state) => state.revision > revision);
      expect(two.hill.desired!.elsewhere).toContain(event.programmeId);
      expect((await two.points())[0]!.presence).toBe('silent');
      expect((await publicly(event)).playback!.hls).toContain(`127.0.0.1:${port}`);

      // A page of somebody else at the same address is no sign of life.
      said = '<title>Welcome</title>';
      expect((await wantedOf(two.hill, event)).takenOver?.leg).toBe(1);
    });
  });
});
