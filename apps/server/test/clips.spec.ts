import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { EventView } from '@heliphon/contracts/events';
import type { HouseView, RecordingFiles, RecordingView } from '@heliphon/contracts/house';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { Observation } from '@heliphon/core/control/observations';
import { type HouseClient, type NodeClient, PASSWORD, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let operator: HouseClient;
let node: NodeClient;
let event: EventView;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  house = await server.house();
  operator = await server.member(house.houseId, 'operator');
  node = await server.dialAsNode();
  event = (await house.move(await house.event(60, 120), 'go-on-air')).body;
});
afterEach(() => node.close());

const clipsPath = (): string => `/api/events/${event.id}/clips`;
const clips = async () => (await house.get<Page<RecordingView>>(clipsPath())).body.items;
const save = async (seconds = 30): Promise<RecordingView> =>
  (await operator.post<RecordingView>(clipsPath(), { seconds })).body;
const wanted = () => until(() => node.desired?.clips.at(-1), 'the node to be told');

async function tell(observation: Observation): Promise<void> {
  const seq = Math.max(Date.now(), node.storedSeq + 1);
  node.observe(seq, observation);
  await until(() => node.storedSeq >= seq, 'it to be stored');
}
const made = async (durationMs: number): Promise<void> =>
  tell({
    kind: 'recording-kept',
    programmeId: (await wanted()).clipId,
    durationMs,
    gapsMs: 0,
    loudness: null,
    sizeBytes: 4_000_000,
    atMs: Date.now(),
  });
const page = async (slug: string) =>
  (await server.anybody().get<PublicEvent>(`/api/public/events/${slug}`)).body;

test('somebody at the desk saves what was just shown; its node makes it, and it lies in the archive', async () => {
  const clip = await save(45);
  expect(clip).toMatchObject({ kind: 'clip', durationMs: 0, eventId: event.id });
  expect(clip.title).toContain(event.title);
  const { clipId, programmeId, fromUtcMs, toUtcMs } = await wanted();
  expect(programmeId).toBe(event.programmeId);
  // No further back than air began.
  expect(fromUtcMs).toBe(Math.max(event.airAtMs!, toUtcMs - 45_000));
  expect(clipId).not.toBe(programmeId);

  await made(44_000);
  expect(await clips()).toMatchObject([{ id: clip.id, durationMs: 44_000, sizeBytes: 4_000_000 }]);
  const archive = (await house.get<Page<RecordingView>>('/api/recordings')).body.items;
  expect(archive.map(({ id }) => id)).toContain(clip.id);
  const { body: files } = await house.get<RecordingFiles>(`/api/recordings/${clip.id}/files`);
  expect(files.mp4).toContain(`/p/${clipId}/`);
  await until(() => node.desired?.clips.length === 0, 'nothing more to make');
});

test('it has its own page, which says what it is from, at an address that nobody can guess', async () => {
  const clip = await save();
  expect(await page(clip.slug)).toMatchObject({ state: 'kept', playback: null });
  await made(30_000);
  const seen = await until(async () => {
    const found = await page(clip.slug);
    return found.playback && found;
  }, 'it to be played');
  expect(seen).toMatchObject({
    title: clip.title,
    clipOf: { title: event.title, slug: event.slug },
    chat: { state: 'off' },
    orderSeq: null,
  });
  expect(seen.playback!.hls).toContain(`/p/${(await clipOf(clip.id)).clipId}/`);
  expect(clip.slug).toMatch(new RegExp(`^${event.slug}-[0-9a-z]{10,}$`));
  // The event itself is still live at its own address.
  expect((await page(event.slug)).playback?.kind).toBe('live');

  await house.post(`/api/recordings/${clip.id}/bin`);
  await until(async () => (await page(clip.slug)).playback === null, 'it to be hidden');
  await house.delete(`/api/recordings/${clip.id}`);
  await until(
    async () => (await server.anybody().get(`/api/public/events/${clip.slug}`)).status === 404,
    'its address to lead nowhere',
  );
});

/** By which the node knows it. */
async function clipOf(id: string): Promise<{ clipId: string }> {
  const connection = await server.connect();
  const [rows] = await connection.query('SELECT programme_id AS clipId FROM recordings WHERE id = ?', [id]);
  await connection.end();
  return (rows as { clipId: string }[])[0]!;
}

test('the recording of the whole event is one more, and only that counts as its replay', async () => {
  const clip = await save();
  await made(30_000);
  await house.move(await house.current(event), 'end');
  await tell({
    kind: 'recording-kept',
    programmeId: event.programmeId,
    durationMs: 3_000_000,
    gapsMs: 0,
    loudness: null,
    sizeBytes: 1e9,
    atMs: Date.now(),
  });
  const archive = (await house.get<Page<RecordingView>>('/api/recordings')).body.items;
  expect(archive.map(({ kind }) => kind).toSorted()).toEqual(['clip', 'whole']);
  const { hls } = (await page(event.slug)).playback!;
  expect(hls).toContain(`/p/${event.programmeId}/`);
  expect((await page(clip.slug)).title).toBe(clip.title);
});

test('where there was no picture nothing is left of it, and the record says so', async () => {
  const clip = await save();
  await tell({ kind: 'clip-failed', programmeId: (await wanted()).clipId, atMs: Date.now() });
  expect(await clips()).toEqual([]);
  expect((await house.get(`/api/recordings/${clip.id}`)).status).toBe(404);
  const { body } = await house.get<Page<{ kind: string }>>(`/api/happenings?subjectId=${event.id}`);
  expect(body.items.map(({ kind }) => kind)).toContain('clip-failed');
});

test('a node that tells everything once more tells of clips as of programmes; that holds up nothing', async () => {
  const clip = await save();
  const { clipId } = await wanted();
  await made(30_000);
  const life = { state: 'kept', doorsAtMs: 1, airAtMs: 2, endAtMs: 3, cause: 'by-hand' } as const;
  await tell({ kind: 'programme-moved', programmeId: clipId, life, atMs: Date.now() });
  expect((await house.current(event)).state).toBe('air');
  expect((await clips()).map(({ id }) => id)).toEqual([clip.id]);
});

test('it goes with its house: every node takes it off its disk', async () => {
  await save();
  const { clipId } = await wanted();
  await made(30_000);
  await house.move(await house.current(event), 'end');
  const { body } = await house.get<HouseView>('/api/house');
  expect((await house.delete('/api/house', { name: body.name, password: PASSWORD })).status).toBe(204);
  node.close();
  node = await server.dialAsNode();
  const isGoing = () => node.desired?.removedRecordings.some(({ programmeId }) => programmeId === clipId);
  await until(isGoing, 'the node to be told');
});

test('two presses of one moment are one clip; before air, in a rehearsal and beyond five minutes there is none', async () => {
  await save();
  const again = await operator.post<Problem>(clipsPath(), { seconds: 30 });
  expect([again.status, again.body.code]).toEqual([409, 'clip-in-the-making']);
  for (const seconds of [9, 301, 12.5])
    expect((await operator.post(clipsPath(), { seconds })).status).toBe(422);
  const planned = await house.event(60, 120);
  const early = await operator.post<Problem>(`/api/events/${planned.id}/clips`, { seconds: 30 });
  expect(early.body.code).toBe('clip-not-on-air');
  const moderator = await server.member(house.houseId, 'moderator');
  expect((await moderator.post(clipsPath(), { seconds: 30 })).status).toBe(403);
  const stranger = await server.house();
  expect((await stranger.post(clipsPath(), { seconds: 30 })).status).toBe(404);
});
