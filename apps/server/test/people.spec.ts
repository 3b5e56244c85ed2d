import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { Secret, TOTP } from 'otpauth';
import type { SessionView } from '@heliphon/contracts/house';
import type {
  InvitationView,
  MadeToken,
  OpenedInvitation,
  PersonView,
  SecondFactorOffer,
  SessionEntry,
  TokenEntry,
} from '@heliphon/contracts/people';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { freePort } from '../../keeper/src/ports.js';
import { MailBox } from '../../standins/src/mail/mail-box.js';
import { type Answer, HouseClient, PASSWORD, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let owner: HouseClient;
const mail = new MailBox();
beforeAll(async () => {
  const port = await freePort();
  await mail.listen(port, '127.0.0.1');
  server = await ServerDriver.start({ smtpUrl: `smtp://127.0.0.1:${port}` });
  owner = await server.house('owner', 'Tide Mill Hall');
});
afterAll(async () => {
  await server.stop();
  await mail.close();
});

const signIn = (email: string, password: string, code?: string): Promise<Answer<SessionView & Problem>> =>
  server.anybody().post('/api/session', { email, password, ...(code ? { code } : {}) });

const browserOf = (email: string, password: string, code?: string): Promise<HouseClient> =>
  server.browser(new HouseClient(server.url, {}, owner.houseId, email), password, code);

/** The secret of the link in the newest letter to somebody. */
const linkTo = (email: string): Promise<string> =>
  until(
    () =>
      /\/welcome\/([0-9a-z]+)/.exec(
        mail.letters.findLast((letter) => letter.to.includes(email))?.text ?? '',
      )?.[1],
    'a letter',
  );

async function invited(roles: readonly string[] = ['operator']): Promise<{ email: string; secret: string }> {
  const email = `${randomUUID()}@mill.example`;
  expect((await owner.post('/api/invitations', { email, name: 'Odo', roles })).status).toBe(204);
  return { email, secret: await linkTo(email) };
}

async function joined(roles?: readonly string[]): Promise<string> {
  const { email, secret } = await invited(roles);
  await server
    .anybody()
    .post(`/api/welcome/${secret}`, { name: 'Odo Fenwright', password: 'four good words here' });
  return email;
}

describe('an invitation', () => {
  test('comes by letter, says what it is, and lets somebody in with the roles that were given', async () => {
    const { email, secret } = await invited(['operator', 'moderator']);
    expect(mail.letters.at(-1)!.subject).toBe('Invitation to Tide Mill Hall');
    const opened = await server.anybody().get<OpenedInvitation>(`/api/welcome/${secret}`);
    expect(opened.body).toMatchObject({
      kind: 'join',
      houseName: 'Tide Mill Hall',
      email,
      needsPassword: true,
    });
    const wish = { name: 'Odo Fenwright', password: 'four good words here' };
    expect((await server.anybody().post(`/api/welcome/${secret}`, wish)).status).toBe(204);
    const session = await signIn(email, wish.password);
    expect(session.body).toMatchObject({
      roles: ['operator', 'moderator'],
      person: { name: 'Odo Fenwright' },
    });
    expect((await server.anybody().get(`/api/welcome/${secret}`)).status).toBe(410);
  });

  test('is listed until it is used, can be withdrawn, and a short password does not use it up', async () => {
    const { email, secret } = await invited();
    const short = await server.anybody().post<Problem>(`/api/welcome/${secret}`, { password: 'short' });
    expect(short).toMatchObject({ status: 422, body: { fields: [{ path: 'password' }] } });
    const list = await owner.get<Page<InvitationView>>('/api/invitations');
    const row = list.body.items.find((invitation) => invitation.email === email)!;
    expect((await owner.delete(`/api/invitations/${row.id}`)).status).toBe(204);
    expect((await server.anybody().get(`/api/welcome/${secret}`)).status).toBe(410);
  });

  test('of somebody who belongs already is refused at the field', async () => {
    const answer = await owner.post<Problem>('/api/invitations', {
      email: owner.email,
      name: 'X',
      roles: ['owner'],
    });
    expect(answer.body).toMatchObject({ code: 'member-already', fields: [{ path: 'email' }] });
  });
});

describe('a lost password', () => {
  test('is renewed by letter, once, and ends every session', async () => {
    const email = await joined();
    const browser = await browserOf(email, 'four good words here');
    expect((await server.anybody().post('/api/password/forgotten', { email })).status).toBe(204);
    await until(
      () => mail.letters.findLast((l) => l.to.includes(email))?.subject === 'A new password',
      'the letter',
    );
    const secret = await linkTo(email);
    await server.anybody().post(`/api/welcome/${secret}`, { password: 'another four good words' });
    expect((await browser.get('/api/session')).status).toBe(401);
    expect((await signIn(email, 'four good words here')).status).toBe(401);
    expect((await signIn(email, 'another four good words')).status).toBe(200);
  });
  test('of an address nobody has gets the same answer, and no letter', async () => {
    const before = mail.letters.length;
    expect(
      (await server.anybody().post('/api/password/forgotten', { email: 'no@body.example' })).status,
    ).toBe(204);
    expect(mail.letters.length).toBe(before);
  });
});

describe('roles', () => {
  test('are changed by an owner, and a house never loses its last one', async () => {
    const email = await joined();
    const people = await owner.get<Page<PersonView>>('/api/people');
    const odo = people.body.items.find((person) => person.email === email)!;
    const self = people.body.items.find((person) => person.email === owner.email)!;
    expect(
      (await owner.patch<PersonView>(`/api/people/${odo.id}`, null, { roles: ['producer'] })).body.roles,
    ).toEqual(['producer']);
    for (const attempt of [
      owner.patch<Problem>(`/api/people/${self.id}`, null, { roles: ['producer'] }),
      owner.delete<Problem>(`/api/people/${self.id}`),
    ])
      expect(await attempt).toMatchObject({ status: 409, body: { code: 'last-owner' } });
  });
  test('somebody taken out is signed out at once', async () => {
    const email = await joined();
    const browser = await browserOf(email, 'four good words here');
    const { body } = await owner.get<Page<PersonView>>('/api/people');
    await owner.delete(`/api/people/${body.items.find((person) => person.email === email)!.id}`);
    expect((await browser.get('/api/session')).status).toBe(401);
  });
});

describe('sessions and tokens', () => {
  test('a person sees where they are signed in, and ends one elsewhere', async () => {
    const email = await joined();
    const [here, there] = [
      await browserOf(email, 'four good words here'),
      await browserOf(email, 'four good words here'),
    ];
    const { body } = await here.get<Page<SessionEntry>>('/api/own/sessions');
    const other = body.items.find((entry) => !entry.isThisOne)!;
    await here.delete(`/api/own/sessions/${other.id}`);
    expect([(await here.get('/api/session')).status, (await there.get('/api/session')).status]).toEqual([
      200, 401,
    ]);
  });

  test('a token does what its scopes say and no more, is told once, and can be ended', async () => {
    const browser = await browserOf(await joined(['producer']), 'four good words here');
    const made = await browser.post<MadeToken>('/api/own/tokens', {
      name: 'Rota',
      scopes: ['events.read'],
      days: 30,
    });
    const program = new HouseClient(
      server.url,
      { authorization: `Bearer ${made.body.secret}` },
      owner.houseId,
      '',
    );
    expect((await program.get('/api/events')).status).toBe(200);
    expect((await program.post('/api/events', {})).status).toBe(403);
    expect((await program.post('/api/own/tokens', { name: 'More' })).status).toBe(403);
    const listed = await browser.get<Page<TokenEntry>>('/api/own/tokens');
    expect(JSON.stringify(listed.body)).not.toContain(made.body.secret);
    await browser.delete(`/api/own/tokens/${made.body.token.id}`);
    expect((await program.get('/api/events')).status).toBe(401);
  });
});

describe('the second factor', () => {
  const codeNow = (secret: string, stepsAhead = 0): string =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + stepsAhead * 30_000 });

  test('counts from its first right code on, takes each code once, and recovery codes once too', async () => {
    const password = 'four good words here';
    const email = await joined();
    const browser = await browserOf(email, password);
    const { body: offer } = await browser.post<SecondFactorOffer>('/api/own/second-factor');
    expect(offer.uri).toContain('otpauth://totp/');
    expect((await signIn(email, password)).status).toBe(200);
    const wrong = await browser.post<Problem>('/api/own/second-factor/confirm', { code: '000000' });
    expect(wrong.body.code).toBe('code-wrong');
    const first = codeNow(offer.secret);
    const { body } = await browser.post<{ recoveryCodes: string[] }>('/api/own/second-factor/confirm', {
      code: first,
    });
    expect(body.recoveryCodes).toHaveLength(10);
    expect((await signIn(email, password)).body.code).toBe('second-factor-needed');
    expect((await signIn(email, password, first)).body.code).toBe('second-factor-wrong');
    expect((await signIn(email, password, codeNow(offer.secret, 1))).status).toBe(200);
    const [recovery] = body.recoveryCodes;
    expect((await signIn(email, password, recovery)).status).toBe(200);
    expect((await signIn(email, password, recovery)).body.code).toBe('second-factor-wrong');
    expect(
      (await browser.post('/api/own/second-factor/remove', { code: body.recoveryCodes[1] })).status,
    ).toBe(204);
    expect((await signIn(email, password)).body.hasSecondFactor).toBe(false);
    await until(
      () => mail.letters.at(-1)?.subject === 'Your two-step sign-in was switched off',
      'the letter',
    );
  });

  test('guessing is slowed down', async () => {
    const browser = await browserOf(await joined(), 'four good words here');
    await browser.post('/api/own/second-factor');
    const answers = [];
    for (let count = 0; count < 6; count += 1)
      answers.push(await browser.post<Problem>('/api/own/second-factor/confirm', { code: '123456' }));
    expect(answers.at(-1)).toMatchObject({ status: 429 });
    expect(Number(answers.at(-1)!.headers.get('retry-after'))).toBeGreaterThan(0);
  });
});

test('nobody’s password, code or secret stands in a list, a record or an answer', async () => {
  await joined();
  const texts = await Promise.all(
    ['/api/people', '/api/invitations', '/api/happenings?limit=200'].map(async (path) =>
      JSON.stringify((await owner.get(path)).body),
    ),
  );
  for (const text of texts) expect(text).not.toMatch(/argon2|passwordHash|sealed|[sS]ecret|four good words/);
  expect(texts[2]).toContain('person-joined');
  expect(PASSWORD.length).toBeGreaterThan(10);
});
