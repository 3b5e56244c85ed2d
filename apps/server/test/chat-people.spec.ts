import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ChatMessage, ChatPage, ChatPerson, JoinedChat } from '@heliphon/contracts/chat';
import type { Page } from '@heliphon/contracts/problem';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

describe('a chat', () => {
  test('hides a person with all they say, shows who is here, and brings everything back', async () => {
    const event = await house.event(600, 660);
    const { slug } = (await house.move(event, 'open-doors')).body;
    const room = `/api/public/events/${slug}/chat`;
    const join = await server
      .anybody()
      .post<JoinedChat>(`${room}/join`, { name: 'Loud Larry', acceptsRules: true });
    const say = (text: string) =>
      server
        .anybody()
        .post<ChatMessage>(
          room,
          { text, messageId: randomUUID() },
          { authorization: `Bearer ${join.body.token}` },
        );
    await say('First');
    const chat = `/api/events/${event.id}/chat`;
    const [larry] = (await house.get<Page<ChatPerson>>(`${chat}/people`)).body.items;
    expect(larry).toMatchObject({ name: 'Loud Larry', messages: 1, hiddenBy: null });
    await house.post(`${chat}/people/${larry!.id}/hide`);
    await say('Second');
    const shown = async () =>
      (await server.anybody().get<ChatPage>(room)).body.messages
        .toSorted((a, b) => a.seq - b.seq)
        .map(({ text }) => text);
    expect(await shown()).toEqual([null, null]);
    const said = await house.get<ChatPage>(`${chat}/people/${larry!.id}`);
    expect(said.body.messages.map(({ text }) => text)).toEqual(['First', 'Second']);
    await house.post(`${chat}/people/${larry!.id}/restore`);
    expect(await shown()).toEqual(['First', 'Second']);
    const kinds = (await server.happenings(larry!.id)).map(({ kind }) => kind);
    expect(kinds).toEqual(['chat-person-hidden', 'chat-person-restored']);
    expect(JSON.stringify((await server.anybody().get(room)).body)).not.toContain(larry!.id);
  });
});
