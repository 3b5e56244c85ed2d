import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from '@jest/globals';
import { io, type Socket } from 'socket.io-client';
import type { DeskHolderView } from '@heliphon/contracts/desk';
import type { EventView } from '@heliphon/contracts/events';
import type { SessionView } from '@heliphon/contracts/house';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { HouseFigures } from '@heliphon/contracts/push';
import { type HouseClient, PASSWORD, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let ines: HouseClient;
let odo: HouseClient;
let event: EventView;
const sockets: Socket[] = [];
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  ines = await server.house('producer');
  odo = await server.member(ines.houseId, 'operator');
  event = await ines.event(60, 120);
});
afterEach(() => sockets.splice(0).forEach((socket) => socket.close()));

const idOf = async (client: HouseClient): Promise<string> =>
  (await (await server.browser(client)).get<SessionView>('/api/session')).body.person.id;
const path = (): string => `/api/events/${event.id}/holder`;
const holder = async () => (await ines.get<DeskHolderView>(path())).body.holder;
const choose = <T = DeskHolderView>(client: HouseClient, personId: string | null) =>
  client.ask<T>('PUT', path(), { personId });

/** A console that stays open, with the desk of the event open in it. */
async function openDesk(client: HouseClient): Promise<{ socket: Socket; seen: () => HouseFigures['desks'] }> {
  const { headers } = await server
    .anybody()
    .post('/api/session', { email: client.email, password: PASSWORD });
  const cookie = headers.get('set-cookie')!.split(';')[0]!;
  const options = { transports: ['websocket'], forceNew: true, extraHeaders: { cookie } };
  const socket = io(`${server.url}/console`, options);
  sockets.push(socket);
  let desks: HouseFigures['desks'] = [];
  socket.on('figures', (figures: HouseFigures) => (desks = figures.desks));
  socket.on('connect', () => socket.emit('at-desk', event.id));
  await until(() => socket.connected, 'the console');
  return { socket, seen: () => desks };
}

test('one takes the desk, hands it over with one press, and another takes it; the record has it all', async () => {
  expect(await holder()).toBeNull();
  const [inesId, odoId] = [await idOf(ines), await idOf(odo)];
  await choose(ines, inesId);
  expect(await holder()).toMatchObject({ personId: inesId });
  await choose(ines, odoId);
  expect(await holder()).toMatchObject({ personId: odoId });
  await choose(ines, inesId);
  await choose(ines, null);
  expect(await holder()).toBeNull();
  const { body } = await ines.get<Page<{ kind: string }>>(`/api/happenings?subjectId=${event.id}`);
  const kinds = body.items.map(({ kind }) => kind).filter((kind) => kind.startsWith('desk-'));
  expect(kinds).toEqual(['desk-left', 'desk-taken', 'desk-taken', 'desk-taken']);
});

test('taken by the one who has it already, nothing has happened', async () => {
  const inesId = await idOf(ines);
  await choose(ines, inesId);
  const since = (await holder())!.sinceMs;
  await choose(ines, inesId);
  expect((await holder())!.sinceMs).toBe(since);
});

test('it is not for those who may do nothing there, nor for strangers', async () => {
  const treasurer = await server.member(ines.houseId, 'treasurer');
  expect((await choose(treasurer, await idOf(treasurer))).status).toBe(403);
  const given = await choose<Problem>(ines, await idOf(treasurer));
  expect([given.status, JSON.stringify(given.body)]).toEqual([
    422,
    expect.stringContaining('not-of-the-desk'),
  ]);
  const stranger = await server.house();
  expect((await choose(ines, await idOf(stranger))).status).toBe(404);
  expect((await choose(stranger, await idOf(stranger))).status).toBe(404);
  expect((await choose(ines, 'odo')).status).toBe(422);
});

test('everybody sees who is at which desk: each once, until their last window is gone', async () => {
  const desk = await openDesk(ines);
  const [first, second] = [await openDesk(odo), await openDesk(odo)];
  const odoId = await idOf(odo);
  const people = () => desk.seen().find(({ eventId }) => eventId === event.id)?.people ?? [];
  await until(() => people().length === 2, 'both to be seen');
  expect(people().find(({ personId }) => personId === odoId)).toMatchObject({ canHold: true });
  first.socket.close();
  second.socket.emit('at-desk', null);
  await until(() => people().length === 1, 'one to have left');
  // What is no event leaves the desk as well, and harms nothing.
  desk.socket.emit('at-desk', { event: 'none' });
  await until(() => people().length === 0, 'nobody to be there');
  const other = await server.house();
  expect((await openDesk(other)).seen()).toEqual([]);
});
