import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { EventView, RehearsalView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let event: EventView;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  house = await server.house('producer');
  const source = await house.source();
  event = await house.event(600, 660, source.id);
});

const rehearse = () => house.post<EventView & Problem>(`/api/events/${event.id}/rehearsals`);
const rehearsals = async (): Promise<readonly RehearsalView[]> =>
  (await house.get<Page<RehearsalView>>(`/api/events/${event.id}/rehearsals`)).body.items;
const onAir = async (): Promise<EventView> =>
  until(async () => {
    const [latest] = await rehearsals();
    return latest?.event.state === 'air' ? latest.event : null;
  }, 'the rehearsal to be on air');
const publicly = async (slug: string): Promise<PublicEvent> =>
  (await server.anybody().get<PublicEvent>(`/api/public/events/${slug}`)).body;

test('a rehearsal is on air at once, at an address that cannot be guessed; nothing public moves', async () => {
  const started = await rehearse();
  expect(started.status).toBe(201);
  expect(started.body).toMatchObject({
    sourceId: event.sourceId,
    destinationIds: [],
    chatOpen: false,
    rehearsalOf: event.id,
  });
  expect(started.body.slug).toMatch(/^rehearsal-[0-9a-z]{26}$/);
  const running = await onAir();
  expect(await publicly(running.slug)).toMatchObject({ state: 'air', isRehearsal: true });
  const page = await server.anybody().get<string>(`/watch/${running.slug}`);
  expect(page.headers.get('x-robots-tag')).toBe('noindex');
  expect(page.body).not.toContain('og:title');

  // The plan, the calendar and the event’s own page know nothing of it; no clash is told.
  const planned = (await house.get<Page<EventView>>('/api/events')).body.items;
  expect(planned.map(({ id, clash }) => [id, clash])).toEqual([[event.id, null]]);
  expect((await house.get<string>('/api/calendar')).body).not.toContain('rehearsal');
  expect(await publicly(event.slug)).toMatchObject({ state: 'planned', playback: null, isRehearsal: false });
});

test('there is one at a time; ended and kept it is an event of its own', async () => {
  await rehearse();
  const running = await onAir();
  expect((await rehearse()).body.code).toBe('rehearsing-already');
  expect((await house.post<Problem>(`/api/events/${running.id}/keep-rehearsal`)).body.code).toBe(
    'moved-meanwhile',
  );
  await house.move(running, 'end');
  expect((await house.post(`/api/events/${event.id}/keep-rehearsal`)).status).toBe(404);
  const kept = await house.post<EventView>(`/api/events/${running.id}/keep-rehearsal`);
  expect(kept.body).toMatchObject({ title: 'Lamplight Evensong, rehearsal', rehearsalOf: null });
  expect(await rehearsals()).toEqual([]);
  expect((await rehearse()).status).toBe(201);
});

test('what was recorded of it is thrown away into the bin, and nobody can watch it any more', async () => {
  const node = await server.dialAsNode();
  await rehearse();
  const running = await onAir();
  await house.move(running, 'end');
  const seq = Date.now();
  node.observe(seq, {
    kind: 'recording-kept',
    loudness: null,
    gapsMs: 0,
    programmeId: running.programmeId,
    durationMs: 42_000,
    sizeBytes: 1e7,
    atMs: Date.now(),
  });
  await until(() => node.storedSeq >= seq, 'the recording');
  node.close();
  const [kept] = await rehearsals();
  expect(kept!.recording).toMatchObject({ durationMs: 42_000 });
  expect((await publicly(running.slug)).playback).toMatchObject({ kind: 'replay' });
  await house.post(`/api/recordings/${kept!.recording!.id}/bin`);
  expect((await rehearsals())[0]!.recording).toBeNull();
  await until(async () => (await publicly(running.slug)).playback === null, 'it to be hidden');
});

test('it is over before the source is needed, and does not begin when that is too near', async () => {
  const soon = await house.event(40, 60, event.sourceId);
  const started = (await rehearse()).body;
  expect(started.stopsAtMs).toBe(soon.doorsAtMs - 60_000);
  const near = await house.event(17, 30, event.sourceId);
  await house.move(await onAir(), 'end');
  expect(near.doorsAtMs - Date.now()).toBeLessThan(5 * 60_000);
  expect((await rehearse()).body).toMatchObject({ status: 409, code: 'doors-too-near' });
});

test('without a source, after the doors, or for somebody who only looks on there is none', async () => {
  const bare = await house.event(700, 760);
  expect((await house.post<Problem>(`/api/events/${bare.id}/rehearsals`)).body.code).toBe(
    'no-source-to-rehearse',
  );
  const moderator = await server.member(house.houseId, 'moderator');
  expect((await moderator.post(`/api/events/${event.id}/rehearsals`)).status).toBe(403);
  await house.move(event, 'open-doors');
  expect((await rehearse()).body.code).toBe('moved-meanwhile');
});
