import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { io } from 'socket.io-client';
import type { ActivityEntry } from '@heliphon/contracts/activity';
import type { ChatMessage, JoinedChat } from '@heliphon/contracts/chat';
import type { EventView } from '@heliphon/contracts/events';
import type { MadeToken, PersonView } from '@heliphon/contracts/people';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { type Answer, HouseClient, PASSWORD, type ServerDriver, startWithMail, until } from './driver.js';
import type { MailBox } from '../../standins/src/mail/mail-box.js';

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
let owner: HouseClient;
beforeAll(async () => {
  ({ server, mail, stop } = await startWithMail());
  owner = await server.house('owner');
});
afterAll(() => stop());

const personIn = async (email: string): Promise<PersonView> =>
  (await owner.get<Page<PersonView>>('/api/people')).body.items.find((person) => person.email === email)!;

describe('the way in', () => {
  const forgotten = (email: string, headers: Record<string, string> = {}): Promise<Answer<Problem>> =>
    server.anybody().post('/api/password/forgotten', { email }, headers);

  test('is not opened by an address that only looks like somebody’s', async () => {
    const { email } = await server.member(owner.houseId, 'producer');
    const lookAlike = email.replace('house.example', 'hoúse.example').replace(/^./, 'ä');
    expect((await forgotten(lookAlike)).status).toBe(204);
    expect((await forgotten(email.toUpperCase())).status).toBe(204);
    // Letters leave in order: had the first found anybody, its letter would be there.
    const letter = await until(() => mail.letters.at(-1), 'the letter to the address on record');
    expect(mail.letters.map(({ to }) => to)).toEqual([email]);
    expect(letter.text).toContain(`${server.url}/welcome/`);
  });

  test('makes no letter whose link leads where the asker chose', async () => {
    const { email } = await server.member(owner.houseId, 'producer');
    const before = mail.letters.length;
    const { port } = new URL(server.url);
    const answer = await new Promise<number>((resolve) => {
      void import('node:http').then(({ request }) => {
        const headers = { host: 'evil.example', 'content-type': 'application/json' };
        const ask = request({ port, method: 'POST', path: '/api/password/forgotten', headers }, (reply) =>
          resolve(reply.statusCode!),
        );
        ask.end(JSON.stringify({ email }));
      });
    });
    expect([answer, mail.letters.length]).toEqual([409, before]);
  });

  test('is shut to every session and token of before, once there is a new password', async () => {
    const quiet = await server.house('owner');
    const [browser, token] = [await server.browser(quiet), quiet];
    await forgotten(quiet.email);
    const secret = await until(
      () =>
        /welcome\/([0-9a-z]+)/.exec(
          mail.letters.findLast(({ to }) => to.includes(quiet.email))?.text ?? '',
        )?.[1],
      'the letter',
    );
    await server.anybody().post(`/api/welcome/${secret}`, { password: 'another four good words' });
    expect([(await browser.get('/api/session')).status, (await token.get('/api/session')).status]).toEqual([
      401, 401,
    ]);
  });
});

describe('taking back', () => {
  test('needs what doing it needed: nobody becomes owner by it, nor by a token for the chat', async () => {
    const climber = await server.member(owner.houseId, 'owner');
    const { id } = await personIn(climber.email);
    await owner.patch(`/api/people/${id}`, null, { roles: ['producer'] });
    const { body } = await climber.get<Page<ActivityEntry>>(`/api/happenings?subjectId=${id}`);
    const change = body.items.find(({ kind }) => kind === 'roles-changed')!;
    expect(change.canUndo).toBe(false);
    expect((await climber.post<Problem>(`/api/happenings/${change.id}/undo`)).body).toMatchObject({
      status: 403,
      code: 'not-allowed',
    });
    const browser = await server.browser(owner);
    const scopes = ['chat.moderate', 'activity.read'];
    const { body: made } = await browser.post<MadeToken>('/api/own/tokens', { name: 'Chat', scopes });
    const program = new HouseClient(
      server.url,
      { authorization: `Bearer ${made.secret}` },
      owner.houseId,
      '',
    );
    expect((await program.post('/api/happenings/undo-last', { subjectId: id })).status).toBe(403);
    expect((await personIn(climber.email)).roles).toEqual(['producer']);
  });
});

describe('ids from outside', () => {
  const join = async (event: EventView) => {
    const path = `/api/public/events/${event.slug}/chat`;
    const { body } = await server
      .anybody()
      .post<JoinedChat>(`${path}/join`, { name: 'Sib', acceptsRules: true });
    const headers = { authorization: `Bearer ${body.token}` };
    return (text: string, messageId: string) =>
      server.anybody().post<ChatMessage>(path, { text, messageId }, headers);
  };
  const open = async (house: HouseClient): Promise<EventView> =>
    (await house.move(await house.event(600, 660), 'open-doors')).body;

  test('name nobody else’s message: each stays as it was, in whichever house', async () => {
    const stranger = await server.house();
    const [here, there] = [await open(owner), await open(stranger)];
    const [sayHere, sayThere] = [await join(here), await join(there)];
    const messageId = randomUUID();
    const { body: first } = await sayHere('Good morning', messageId);
    expect(first.id).not.toBe(messageId);
    for (const taken of [messageId, first.id])
      expect((await sayThere('Overwritten', taken)).status).toBe(201);
    const { body } = await owner.get<{ messages: ChatMessage[] }>(`/api/events/${here.id}/chat`);
    expect(body.messages).toMatchObject([{ id: first.id, text: 'Good morning' }]);
  });

  test('a command’s id counts for its event alone', async () => {
    const [one, other] = [await owner.event(600, 660), await owner.event(700, 760)];
    const commandId = randomUUID();
    await owner.move(one, 'open-doors', commandId);
    expect((await owner.move(other, 'open-doors', commandId)).body.state).toBe('doors');
  });

  test('those who speak first at once, and events of one name planned at once, all get through', async () => {
    const event = await open(owner);
    const voices = await Promise.all(Array.from({ length: 6 }, () => join(event)));
    const answers = await Promise.all(voices.map((say) => say('First', randomUUID())));
    expect(answers.map(({ status }) => status)).toEqual(Array(6).fill(201));
    expect(answers.map(({ body }) => body.seq).sort()).toEqual([1, 2, 3, 4, 5, 6]);
    const planned = await Promise.all(Array.from({ length: 6 }, () => owner.event(800, 860)));
    expect(new Set(planned.map(({ slug }) => slug)).size).toBe(6);
  });
});

describe('a console that stays open', () => {
  const listening = async (client: HouseClient): Promise<ReturnType<typeof io>> => {
    const { headers } = await server
      .anybody()
      .post('/api/session', { email: client.email, password: PASSWORD });
    const desk = io(`${server.url}/console`, {
      transports: ['websocket'],
      forceNew: true,
      reconnection: false,
      extraHeaders: { cookie: headers.get('set-cookie')!.split(';')[0]! },
    });
    await until(() => desk.connected, 'the connection');
    return desk;
  };

  test('is shut by itself for people who were removed, and for those who may do something else by now', async () => {
    const own = await server.house('owner');
    const [gone, changed] = [
      await server.member(own.houseId, 'producer'),
      await server.member(own.houseId, 'moderator'),
    ];
    const desks = [await listening(gone), await listening(changed), await listening(own)];
    const { body } = await own.get<Page<PersonView>>('/api/people');
    const idOf = ({ email }: HouseClient) => body.items.find((person) => person.email === email)!.id;
    await own.delete(`/api/people/${idOf(gone)}`);
    await own.patch(`/api/people/${idOf(changed)}`, null, { roles: ['treasurer'] });
    await until(() => !desks[0]!.connected && !desks[1]!.connected, 'both to be shown out');
    expect(desks[2]!.connected).toBe(true);
    desks[2]!.close();
  });
});

describe('what people type', () => {
  test('may hold no control characters, and a title has to be seen', async () => {
    const event = await owner.event(600, 660);
    const rename = (title: string) =>
      owner.patch<Problem>(`/api/events/${event.id}`, event.version, { title });
    expect((await rename('Even\u0000song')).body).toMatchObject({
      code: 'control-character',
      fields: [{ path: 'title' }],
    });
    for (const nothing of ['\u200b', ' \u00ad ', '\u3164'])
      expect((await rename(nothing)).body.code).toBe('fields-wrong');
    const kept = await owner.patch<EventView>(`/api/events/${event.id}`, event.version, {
      title: ' Even\nsong\u200b',
    });
    expect(kept.body.title).toBe('Even song');
    const address = `rtmp://relay.example/live/k\u0000ey`;
    expect((await owner.post<Problem>('/api/destinations', { name: 'Relay', address })).status).toBe(422);
  });

  test.each([
    ['/api/events?from=0000-01-01T00:00:00Z', 422],
    ['/api/happenings?fromMs=-99999999999999', 422],
  ])('%s is answered with %i', async (path, status) => {
    expect((await owner.get(path)).status).toBe(status);
  });
});

test('two owners who demote each other at once leave one', async () => {
  const own = await server.house('owner');
  const other = await server.member(own.houseId, 'owner');
  const { body } = await own.get<Page<PersonView>>('/api/people');
  const idOf = ({ email }: HouseClient) => body.items.find((person) => person.email === email)!.id;
  const [a, b] = await Promise.all([
    own.patch(`/api/people/${idOf(other)}`, null, { roles: ['producer'] }),
    other.patch(`/api/people/${idOf(own)}`, null, { roles: ['producer'] }),
  ]);
  expect([a.status, b.status].sort()).not.toEqual([200, 200]);
  const after = (await own.get<Page<PersonView>>('/api/people')).body.items;
  expect(after.filter(({ roles }) => roles.includes('owner'))).toHaveLength(1);
});

// Last: from here on this address is known for its guessing.
test('signing in is slow for anyone who guesses: one account from many spellings, many accounts from one address', async () => {
  const signIn = async (email: string, headers: Record<string, string> = {}) =>
    (await server.anybody().post('/api/session', { email, password: 'wrong' }, headers)).status;
  const { email } = await server.member(owner.houseId, 'operator');
  const spellings = Array.from({ length: 12 }, (_, index) => (index % 2 ? email.toUpperCase() : ` ${email}`));
  const tries = [];
  for (const [index, spelling] of spellings.entries())
    tries.push(await signIn(spelling, { 'x-forwarded-for': `203.0.113.${index}` }));
  expect(tries.slice(0, 10)).toEqual(Array(10).fill(401));
  expect(tries.slice(10)).toEqual([429, 429]);
  const others = [];
  for (let count = 0; count < 40; count += 1) others.push(await signIn(`${randomUUID()}@house.example`));
  expect(others.at(-1)).toBe(429);
});
