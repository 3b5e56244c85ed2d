import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { io, type Socket } from 'socket.io-client';
import type { ChatMessage, ChatPage, JoinedChat } from '@heliphon/contracts/chat';
import type { EventView } from '@heliphon/contracts/events';
import type { Problem } from '@heliphon/contracts/problem';
import { BATCH_EVERY_MS } from '../src/chat/chat-batches.js';
import { type Answer, type HouseClient, PASSWORD, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

async function openEvent(): Promise<EventView> {
  return (await house.move(await house.event(600, 660), 'open-doors')).body;
}

/** Somebody in a chat. */
class Visitor {
  private constructor(
    private readonly event: EventView,
    private readonly token: string,
  ) {}
  static async join(event: EventView, name: string): Promise<Visitor> {
    const { body } = await server
      .anybody()
      .post<JoinedChat>(`/api/public/events/${event.slug}/chat/join`, { name, acceptsRules: true });
    return new Visitor(event, body.token);
  }
  say<T = ChatMessage>(text: string, messageId: string = randomUUID()): Promise<Answer<T>> {
    return server
      .anybody()
      .post<T>(
        `/api/public/events/${this.event.slug}/chat`,
        { text, messageId },
        { authorization: `Bearer ${this.token}` },
      );
  }
}

const readPublic = async (event: EventView, after = 0): Promise<ChatPage> =>
  (await server.anybody().get<ChatPage>(`/api/public/events/${event.slug}/chat?after=${after}`)).body;

test('one joins by name and by accepting the rules, while the doors are open', async () => {
  const planned = await house.event(600, 660);
  const early = await server
    .anybody()
    .post<Problem>(`/api/public/events/${planned.slug}/chat/join`, { name: 'Sib', acceptsRules: true });
  expect(early.body.code).toBe('chat-before');
  const event = await openEvent();
  const rude = await server
    .anybody()
    .post<Problem>(`/api/public/events/${event.slug}/chat/join`, { name: 'Sib', acceptsRules: false });
  expect(rude.status).toBe(422);
  const sib = await Visitor.join(event, '<script>alert(1)</script>');
  expect((await sib.say('Good morning')).body).toMatchObject({
    author: '<script>alert(1)</script>',
    text: 'Good morning',
  });
});

test('a message sent twice is there once; ten thousand characters are refused in words', async () => {
  const event = await openEvent();
  const sib = await Visitor.join(event, 'Sib');
  const messageId = randomUUID();
  await sib.say('Once', messageId);
  await sib.say('Once', messageId);
  expect((await readPublic(event)).messages).toHaveLength(1);
  expect((await sib.say<Problem>('a'.repeat(10_000))).body).toMatchObject({
    code: 'chat-text-too-long',
    params: { length: 10_000, limit: 500 },
  });
});

test('five quick ones pass, the sixth waits, and another person is not held up', async () => {
  const event = await openEvent();
  const [sib, odo] = [await Visitor.join(event, 'Sib'), await Visitor.join(event, 'Odo')];
  const statuses = [];
  for (let count = 0; count < 6; count += 1) statuses.push((await sib.say(`Line ${count}`)).status);
  expect(statuses).toEqual([201, 201, 201, 201, 201, 429]);
  const slow = await sib.say<Problem>('Again');
  expect(slow.body.params.seconds).toBeGreaterThan(0);
  expect((await odo.say('I am here too')).status).toBe(201);
});

test('a hidden message is gone for the public, stays for moderators, and comes back', async () => {
  const event = await openEvent();
  const sib = await Visitor.join(event, 'Sib');
  const { body: message } = await sib.say('buy cheap anchors');
  await house.post(`/api/events/${event.id}/chat/${message.id}/hide`);
  const hidden = await readPublic(event, message.seq);
  expect(hidden.messages).toMatchObject([{ id: message.id, text: null, hiddenBy: '' }]);
  const seen = (await house.get<ChatPage>(`/api/events/${event.id}/chat`)).body.messages[0];
  expect(seen).toMatchObject({ text: 'buy cheap anchors', hiddenBy: 'A owner' });
  await house.post(`/api/events/${event.id}/chat/${message.id}/restore`);
  expect((await readPublic(event, hidden.seq)).messages).toMatchObject([{ text: 'buy cheap anchors' }]);
  expect((await server.happenings(message.id)).map((h) => h.kind)).toEqual([
    'message-hidden',
    'message-restored',
  ]);
});

test('after the end the chat can be read and not written', async () => {
  const event = await openEvent();
  const sib = await Visitor.join(event, 'Sib');
  await sib.say('Farewell');
  const air = (await house.move(await house.current(event), 'go-on-air')).body;
  await house.move(air, 'end');
  await until(
    async () => (await sib.say<Problem>('Too late')).body.code === 'chat-closed',
    'the chat to close',
  );
  expect((await readPublic(event)).messages).toHaveLength(1);
});

function listen(socket: Socket, name: string): unknown[] {
  const heard: unknown[] = [];
  socket.on(name, (value: unknown) => heard.push(value));
  return heard;
}

test('public pages and consoles hear of every change without asking', async () => {
  const event = await openEvent();
  const page = io(`${server.url}/public`, { transports: ['websocket'], forceNew: true });
  const hints = listen(page, 'hint');
  const chat = listen(page, 'chat');
  page.on('connect', () => page.emit('follow', event.slug));
  const { headers } = await server.anybody().post('/api/session', { email: house.email, password: PASSWORD });
  const cookie = headers.get('set-cookie')!.split(';')[0]!;
  const desk = io(`${server.url}/console`, {
    transports: ['websocket'],
    forceNew: true,
    extraHeaders: { cookie },
  });
  const deskHints = listen(desk, 'hint');
  await until(() => page.connected && desk.connected, 'both connections');
  const sib = await Visitor.join(event, 'Sib');
  await until(async () => {
    await sib.say('Anybody there?');
    return chat.length > 0;
  }, 'the first batch');
  await house.move(await house.current(event), 'go-on-air');
  await until(() => hints.length > 0 && deskHints.length > 0, 'the hints');
  expect(deskHints).toContainEqual(expect.objectContaining({ topic: 'events' }));
  page.close();
  desk.close();
});

test('a room that talks fast is told in batches, and nothing is lost', async () => {
  const event = await openEvent();
  const page = io(`${server.url}/public`, { transports: ['websocket'], forceNew: true });
  const batches = listen(page, 'chat') as { messages: ChatMessage[] }[];
  page.on('connect', () => page.emit('follow', event.slug));
  const said = Array.from({ length: 40 }, (_, index) => `verse ${index}`);
  const answer = (text: string): Promise<unknown> =>
    house.post(`/api/events/${event.id}/chat`, { text, messageId: randomUUID() });
  await until(async () => {
    await answer('Are you there?');
    return batches.length > 0;
  }, 'the page to follow');
  batches.splice(0);
  const beganAtMs = performance.now();
  await Promise.all(said.map(answer));
  const verses = (): (string | null)[] =>
    batches
      .flatMap(({ messages }) => messages.map(({ text }) => text))
      .filter((text) => text !== 'Are you there?');
  await until(() => verses().length === said.length, 'all verses');
  const turns = (performance.now() - beganAtMs) / BATCH_EVERY_MS;
  page.disconnect();
  expect(verses().sort()).toEqual([...said].sort());
  // The first is told at once, and one may be on its way at either end.
  expect(batches.length).toBeLessThanOrEqual(turns + 2);
});

test('a console socket without a session is turned away', async () => {
  const desk = io(`${server.url}/console`, {
    transports: ['websocket'],
    forceNew: true,
    reconnection: false,
  });
  const reason = await new Promise<string>((resolve) =>
    desk.on('connect_error', (error) => resolve(error.message)),
  );
  expect(reason).toBe('not-signed-in');
  desk.close();
});
