import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { EventView } from '@heliphon/contracts/events';
import type { NoteView } from '@heliphon/contracts/notes';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { Page } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { SignalView } from '@heliphon/contracts/signal';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
let event: EventView;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house('operator');
  const producer = await server.member(house.houseId, 'producer');
  event = await producer.event(60, 120);
});
afterAll(() => server.stop());

const at = (seconds: number): number => event.startsAtMs + seconds * 1000;
const write = async (text: string, seconds: number): Promise<NoteView> =>
  (await house.post<NoteView>(`/api/events/${event.id}/notes`, { text, atMs: at(seconds) })).body;
const list = async () => (await house.get<Page<NoteView>>(`/api/events/${event.id}/notes`)).body.items;
const publicOrder = async () =>
  (await server.anybody().get<PublicOrder>(`/api/public/events/${event.slug}/order`)).body;
const orderSeq = async () =>
  (await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`)).body.orderSeq;

test('a note keeps the time of its key, and stands in the list and on the strips in order of time', async () => {
  await write('organ too loud here', 300);
  const early = await write('the bell', 20);
  expect(await list()).toMatchObject([
    { text: 'the bell', atMs: at(20), isChapter: false },
    { text: 'organ too loud here', atMs: at(300) },
  ]);
  const { notes } = (await house.get<SignalView>(`/api/events/${event.id}/signal`)).body;
  expect(notes.map(({ text }) => text)).toEqual(['the bell', 'organ too loud here']);
  expect(early.byName).not.toBe('');
});

test('it becomes a chapter with one press, which viewers have at once, and stops being one', async () => {
  const note = await write('Sermon', 600);
  expect(await orderSeq()).toBeNull();
  await house.ask('PATCH', `/api/notes/${note.id}`, { isChapter: true });
  expect((await publicOrder()).chapters).toEqual([{ atMs: at(600), title: 'Sermon' }]);
  const seq = await orderSeq();
  expect(seq).not.toBeNull();
  await house.ask('PATCH', `/api/notes/${note.id}`, { text: 'The sermon' });
  expect((await publicOrder()).chapters[0]!.title).toBe('The sermon');
  expect(await orderSeq()).not.toBe(seq);
  await house.ask('PATCH', `/api/notes/${note.id}`, { isChapter: false });
  expect((await publicOrder()).chapters).toEqual([]);
});

test('one that was removed comes back by undo', async () => {
  const note = await write('wrong button', 900);
  expect((await house.delete(`/api/notes/${note.id}`)).status).toBe(204);
  expect((await list()).map(({ text }) => text)).not.toContain('wrong button');
  expect((await house.post('/api/happenings/undo-last', { subjectId: event.id })).status).toBeLessThan(300);
  expect(await list()).toContainEqual(note);
});

test.each([{ text: '' }, { text: 'x'.repeat(121) }, {}])('cannot be %j', async (body) => {
  const { status } = await house.post(`/api/events/${event.id}/notes`, { atMs: at(0), ...body });
  expect(status).toBe(422);
});

test('is a matter of those who run the desk, and of no other house', async () => {
  const note = await write('ours', 1);
  const moderator = await server.member(house.houseId, 'moderator');
  expect((await moderator.post(`/api/events/${event.id}/notes`, { text: 'x', atMs: 1 })).status).toBe(403);
  const other = await server.house('operator');
  expect((await other.get(`/api/events/${event.id}/notes`)).status).toBe(404);
  expect((await other.ask('PATCH', `/api/notes/${note.id}`, { text: 'theirs' })).status).toBe(404);
  expect((await other.delete(`/api/notes/${note.id}`)).status).toBe(404);
});
