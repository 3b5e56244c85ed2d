import { afterAll, afterEach, beforeAll, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { EventView } from '@heliphon/contracts/events';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { type HouseClient, ServerDriver, until } from './driver.js';

const MINUTE_MS = 60_000;
let server: ServerDriver;
let house: HouseClient;

beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterEach(() => server.setClock(0));
afterAll(() => server.stop());

const publicOf = async (event: EventView): Promise<PublicEvent> =>
  (await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`)).body;

test('an event is moved by hand, and each move is told once', async () => {
  const event = await house.event(60, 120);
  expect(event.state).toBe('planned');
  const doors = await house.move(event, 'open-doors');
  expect(doors.body.state).toBe('doors');
  const air = await house.move(doors.body, 'go-on-air');
  expect((await publicOf(event)).playback?.hls).toContain(`/p/${event.programmeId}/v1.public.`);
  const kept = await house.move(air.body, 'end');
  expect(kept.body).toMatchObject({ state: 'kept', endCause: 'by-hand' });
  const kinds = (await server.happenings(event.id)).map((happening) => happening.kind);
  expect(kinds).toEqual(['event-planned', 'event-doors', 'event-air', 'event-kept']);
});

test('a command that is repeated gets the first answer and moves nothing', async () => {
  const event = await house.event(60, 120);
  const commandId = randomUUID();
  await house.move(event, 'open-doors', commandId);
  const repeated = await house.move(event, 'open-doors', commandId);
  expect(repeated).toMatchObject({ status: 200, body: { state: 'doors' } });
  expect(await server.happenings(event.id)).toHaveLength(2);
});

test('a command from a state that has passed is refused with the present state', async () => {
  const event = await house.event(60, 120);
  await house.move(event, 'open-doors');
  const stale = await house.move<{ code: string }>(event, 'open-doors');
  expect(stale).toMatchObject({ status: 409, body: { code: 'moved-meanwhile', params: { state: 'doors' } } });
});

test('the clock opens the doors and goes on air without a media node', async () => {
  const event = await house.event(20, 60);
  await server.setClock(6 * MINUTE_MS);
  await until(async () => (await house.current(event)).state === 'doors', 'the doors');
  await server.setClock(21 * MINUTE_MS);
  const air = await until(async () => {
    const now = await house.current(event);
    return now.state === 'air' && now;
  }, 'air');
  expect(air.airAtMs).toBe(event.startsAtMs);
});

test('where nobody knows of the picture, the clock ends an event after its overrun', async () => {
  const event = await house.event(1, 2);
  await server.setClock(40 * MINUTE_MS);
  const kept = await until(async () => {
    const now = await house.current(event);
    return now.state === 'kept' && now;
  }, 'the end');
  expect(kept.endCause).toBe('overrun-used-up');
  expect((await publicOf(event)).playback).toBeNull();
});

test('what the media node did is taken over, once, and never undone by a late report', async () => {
  const node = await server.dialAsNode();
  const event = await house.event(60, 120);
  await until(
    () => node.desired?.programmes.some((p) => p.programmeId === event.programmeId),
    'the desired state',
  );
  const atMs = Date.now();
  const moved = { kind: 'programme-moved', programmeId: event.programmeId, atMs } as const;
  node.observe(1, { ...moved, life: { state: 'air', doorsAtMs: atMs - 1000, airAtMs: atMs } });
  node.observe(1, { ...moved, life: { state: 'air', doorsAtMs: atMs - 1000, airAtMs: atMs } });
  node.observe(2, { ...moved, life: { state: 'doors', doorsAtMs: atMs - 1000 } });
  await until(() => node.storedSeq === 2, 'both being stored');
  expect((await house.current(event)).state).toBe('air');
  const air = (await server.happenings(event.id)).filter((happening) => happening.kind === 'event-air');
  expect(air).toHaveLength(1);
  node.close();
});

test('a recording that a node has kept opens the replay; one without any picture does not', async () => {
  const node = await server.dialAsNode();
  const [filmed, blank] = [await house.event(-30, 30), await house.event(-30, 30)];
  for (const [index, event] of [filmed, blank].entries()) {
    const air = await until(async () => {
      const now = await house.current(event);
      return now.state === 'air' && now;
    }, 'air by the clock');
    await house.move(air, 'end');
    const durationMs = event === filmed ? 60_000 : 0;
    node.observe(10 + index, {
      kind: 'recording-kept',
      loudness: null,
      gapsMs: 0,
      programmeId: event.programmeId,
      durationMs,
      sizeBytes: 5,
      atMs: 1,
    });
  }
  await until(() => node.storedSeq === 11, 'both being stored');
  expect((await publicOf(filmed)).playback).toMatchObject({ kind: 'replay' });
  expect((await publicOf(blank)).playback).toBeNull();
  expect((await house.get<{ items: unknown[] }>('/api/recordings')).body.items).toHaveLength(1);
  node.close();
});

test('a node with a wrong secret is turned away', async () => {
  await expect(server.dialAsNode('w'.repeat(40))).rejects.toThrow('401');
});

test('an event is cancelled with a notice that its page shows, and can take place after all', async () => {
  const event = await house.event(60, 120);
  const wish = { fromState: 'planned', notice: 'The storm. We meet next Sunday.' };
  const cancelled = await house.post<EventView>(`/api/events/${event.id}/cancel`, wish);
  expect(cancelled.body).toMatchObject({ state: 'cancelled', notice: wish.notice });
  expect(await publicOf(event)).toMatchObject({ state: 'cancelled', notice: wish.notice, playback: null });
  await server.setClock(70 * MINUTE_MS);
  expect((await house.move(cancelled.body, 'go-on-air')).status).toBe(409);
  expect((await house.current(event)).state).toBe('cancelled');
  await server.setClock(0);
  const other = await server.member(house.houseId, 'producer');
  await other.post(`/api/events/${event.id}/reinstate`);
  expect(await house.current(event)).toMatchObject({ state: 'planned', notice: null });
  // What was done before is past: undone now, it would undo what has happened since.
  expect((await house.post('/api/happenings/undo-last', { subjectId: event.id })).status).toBe(409);
});

test('an event that is on air cannot be cancelled, nor one whose time is over taken up again', async () => {
  const event = await house.event(60, 120);
  const stale = { fromState: 'planned', notice: '' };
  const air = await house.move(event, 'go-on-air');
  for (const fromState of ['planned', 'air'])
    expect((await house.post(`/api/events/${event.id}/cancel`, { ...stale, fromState })).status).toBe(409);
  await house.move(air.body, 'end');
  const other = await house.event(60, 120);
  await house.post(`/api/events/${other.id}/cancel`, stale);
  await server.setClock(200 * MINUTE_MS);
  const { status, body } = await house.post<{ code: string }>(`/api/events/${other.id}/reinstate`);
  expect([status, body.code]).toEqual([409, 'time-is-over']);
});

test('the desk lets an event last longer, or end at its time without running over', async () => {
  const event = await house.event(60, 120);
  const air = (await house.move(event, 'go-on-air')).body;
  const operator = await server.member(house.houseId, 'operator');
  const longer = await operator.post<EventView>(`/api/events/${event.id}/planned-end`, { wish: 'longer' });
  expect(longer.body.stopsAtMs).toBe(air.stopsAtMs + 15 * MINUTE_MS);
  await operator.post(`/api/events/${event.id}/planned-end`, { wish: 'on-time' });
  expect(await house.current(event)).toMatchObject({ overrunMinutes: 0, stopsAtMs: longer.body.stopsAtMs });
  await server.setClock(138 * MINUTE_MS);
  const ended = await until(async () => {
    const now = await house.current(event);
    return now.state === 'kept' && now;
  }, 'the end');
  expect(ended.endAtMs).toBe(longer.body.stopsAtMs);
  expect((await operator.post(`/api/events/${event.id}/planned-end`, { wish: 'longer' })).status).toBe(409);
});
