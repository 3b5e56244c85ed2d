import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { AccountView, ConsentAddress, OutletView, PlatformView } from '@heliphon/contracts/accounts';
import { succeed } from '@heliphon/core/result';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { AccountLooks } from '../src/accounts/account-looks.js';
import { AccountTokens } from '../src/accounts/account-tokens.js';
import { Database } from '../src/platform/database.js';
import { AccountEntity } from '../src/tables/account.entity.js';
import { answerConsent, type Given, type PlatformName, type World } from '../../standins/test/world.js';
import { type Answer, type HouseClient, PASSWORD, type ServerDriver } from './driver.js';
import { OURS, PlatformHouse } from './platform-house.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

let platforms: PlatformHouse;
let world: World;
let server: ServerDriver;
let house: HouseClient;
const pass = (ms: number): Promise<void> => platforms.pass(ms);
beforeAll(async () => {
  platforms = await PlatformHouse.start();
  ({ world, server } = platforms);
});
beforeEach(async () => {
  await pass(0);
  house = await server.house('producer');
});
afterAll(() => platforms.stop());

const begin = async (by: HouseClient, body: object): Promise<string> =>
  (await by.post<ConsentAddress>('/api/accounts/consents', body)).body.address;
const finish = (by: HouseClient, platform: string, back: URL): Promise<Answer<Problem & { id: string }>> =>
  by.post('/api/accounts', { platform, answer: back.search });

async function link(by: HouseClient, platform: PlatformName, given: Given = {}, accountId?: string) {
  const address = await begin(by, { platform, ...(accountId ? { accountId } : {}) });
  return finish(by, platform, await answerConsent(address, given));
}
const accounts = async (of = house) => (await of.get<Page<AccountView>>('/api/accounts')).body.items;
const outletsOf = async (id: string, query = '') =>
  (await house.get<Page<OutletView>>(`/api/accounts/${id}/outlets?${query}`)).body;
const choose = (id: string, outletId: string, isChosen = true) =>
  house.patch<OutletView>(`/api/accounts/${id}/outlets/${outletId}`, null, { isChosen });
const unlink = (by: HouseClient, id: string) =>
  by.post<Problem>(`/api/accounts/${id}/unlink`, { postings: 'leave' });
const tokens = (): AccountTokens => server.app.get(AccountTokens);
/** The token with which the platform is asked in the end. */
const tokenOf = (account: AccountEntity) => tokens().ask(account, (token) => Promise.resolve(succeed(token)));
const row = (id: string) => server.app.get(Database).installation.findOneByOrFail(AccountEntity, { id });

describe('an account', () => {
  test('is linked by a consent, and of its outlets some are chosen', async () => {
    const { body } = await house.get<{ items: PlatformView[] }>('/api/accounts/platforms');
    expect(body.items.map(({ name }) => name)).toEqual(['Skerry', 'Windlass']);
    const { id } = (
      await link(house, 'skerry', { outlets: ['quay', 'rowers', 'wall-ines'], audience: 'friends' })
    ).body;
    const [account] = await accounts();
    expect(account).toMatchObject({
      id,
      platformName: 'Skerry',
      name: 'Ines Tarrow',
      audience: 'friends',
      endedAtMs: null,
      outletCount: 3,
      chosen: [],
    });
    expect(account!.consentEndsAtMs - Date.now()).toBeGreaterThan(59 * DAY);
    const { items } = await outletsOf(id, 'named=quay');
    expect(items.map(({ name, kind }) => [name, kind])).toEqual([['Lantern Quay Commons', 'page']]);
    expect((await choose(id, items[0]!.id)).body.isChosen).toBe(true);
    expect((await accounts())[0]!.chosen.map(({ name }) => name)).toEqual(['Lantern Quay Commons']);
    await choose(id, items[0]!.id, false);
    const kinds = (await server.happenings(id)).map(({ kind }) => kind);
    expect(kinds).toEqual(['account-linked', 'outlet-chosen', 'outlet-let-go']);
  });

  test('never shows its tokens, and they are sealed', async () => {
    const { id } = (await link(house, 'windlass', { outlets: ['bells'] })).body;
    const { sealedAccessToken, sealedRefreshToken } = await row(id);
    for (const sealed of [sealedAccessToken, sealedRefreshToken]) expect(sealed).toMatch(/^v1\./);
    const seen = JSON.stringify([await accounts(), await outletsOf(id), await server.happenings(id)]);
    expect(seen).not.toMatch(/token|v1\./i);
  });

  test('may have thousands of outlets, which come in pages', async () => {
    world.platforms.skerry.directory.addMany('ines');
    const all = world.platforms.skerry.directory.outletsOf('ines').map(({ id }) => id);
    const { id } = (await link(house, 'skerry', { outlets: all })).body;
    expect((await accounts())[0]!.outletCount).toBe(all.length);
    const first = await outletsOf(id, 'limit=200&named=Parish');
    expect(first.items).toHaveLength(200);
    const second = await outletsOf(id, `limit=200&named=Parish&after=${first.next}`);
    expect(new Set([...first.items, ...second.items].map((outlet) => outlet.id)).size).toBe(400);
    expect((await outletsOf(id, 'named=%25')).items).toEqual([]);
  });

  test('of two houses is linked for each by itself', async () => {
    const other = await server.house('producer');
    const { id } = (await link(house, 'windlass', { outlets: ['bells'] })).body;
    const theirs = (await link(other, 'windlass', { outlets: ['quay-films'] })).body.id;
    expect(theirs).not.toBe(id);
    expect((await unlink(other, id)).status).toBe(404);
    expect((await other.get(`/api/accounts/${id}/outlets`)).status).toBe(404);
    await unlink(house, id);
    expect((await tokenOf(await row(theirs))).ok).toBe(true);
    expect(await accounts(other)).toHaveLength(1);
  });

  test('is linked by those who plan, and seen by all', async () => {
    const operator = await server.member(house.houseId, 'operator');
    expect((await operator.post('/api/accounts/consents', { platform: 'skerry' })).status).toBe(403);
    const { id } = (await link(house, 'skerry', { outlets: ['quay'] })).body;
    expect(await accounts(operator)).toHaveLength(1);
    expect((await unlink(operator, id)).status).toBe(403);
  });

  test('is unlinked here and there', async () => {
    const { id } = (await link(house, 'skerry', { outlets: ['quay'] })).body;
    const known = await row(id);
    const token = await tokenOf(known);
    expect((await unlink(house, id)).status).toBe(204);
    expect(await accounts()).toEqual([]);
    const { consents } = world.platforms.skerry;
    expect(token.ok && consents.consentOf(token.value, Date.now())).toBeNull();
  });
});

test('of a house that leaves for good the consents are taken back', async () => {
  const owner = await server.house('owner', 'Tide Mill');
  await link(owner, 'windlass', { outlets: ['bells'] });
  const { consents } = world.platforms.windlass;
  const [account] = await accounts(owner);
  const token = await tokenOf(await row(account!.id));
  expect((await owner.delete('/api/house', { name: 'Tide Mill', password: PASSWORD })).status).toBe(204);
  expect(token.ok && consents.consentOf(token.value, Date.now())).toBeNull();
});

describe('a consent', () => {
  test('that is denied links nothing, and can be asked for again', async () => {
    expect((await link(house, 'skerry', { answer: 'deny' })).body).toMatchObject({
      status: 409,
      code: 'link-denied',
      params: { platform: 'Skerry' },
    });
    expect(await accounts()).toEqual([]);
    expect((await link(house, 'skerry')).status).toBe(201);
  });

  test('is taken from the person who was asked, in their house, once, in time, and for its own platform', async () => {
    const refused = { status: 409, code: 'link-not-asked' };
    const ask = async () => answerConsent(await begin(house, { platform: 'skerry' }), { outlets: ['quay'] });
    const back = await ask();
    const colleague = await server.member(house.houseId, 'producer');
    const stranger = await server.house('producer');
    for (const other of [colleague, stranger])
      expect((await finish(other, 'skerry', back)).body).toMatchObject(refused);
    expect((await finish(house, 'windlass', back)).body).toMatchObject(refused);
    expect((await finish(house, 'skerry', new URL(`${OURS}/?code=stolen&state=made-up`))).body).toMatchObject(
      refused,
    );
    expect((await finish(house, 'skerry', back)).status).toBe(201);
    expect((await finish(house, 'skerry', back)).body).toMatchObject(refused);
    const late = await ask();
    await pass(31 * 60_000);
    expect((await finish(house, 'skerry', late)).body).toMatchObject(refused);
    expect(await accounts()).toHaveLength(1);
  });

  test('of somebody else does not replace the one that is linked again', async () => {
    const { id } = (await link(house, 'skerry', { outlets: ['quay'] })).body;
    const other = await link(house, 'skerry', { person: 'hollis', outlets: ['wall-hollis'] }, id);
    expect(other.body).toMatchObject({
      status: 409,
      code: 'link-other-account',
      params: { linked: 'Ines Tarrow', given: 'Hollis Brand' },
    });
    expect(await accounts()).toHaveLength(1);
    // What was refused here does not stay open over there.
    expect(world.platforms.skerry.consents.of('hollis')).toEqual([]);
  });

  test('cannot be asked for at a platform that nobody knows, nor taken up while one is out of order', async () => {
    expect((await house.post('/api/accounts/consents', { platform: 'atoll' })).status).toBe(404);
    // One that only looks like it.
    expect((await house.post('/api/accounts/consents', { platform: 'skеrry' })).status).toBe(422);
    expect((await house.post('/api/accounts/consents', { platform: 'Skerry' })).status).toBe(422);
    const address = await begin(house, { platform: 'windlass' });
    const back = await answerConsent(address, { outlets: ['bells'] });
    world.platforms.windlass.setFault('outage');
    const answer = await finish(house, 'windlass', back);
    world.platforms.windlass.setFault('none');
    expect(answer.body).toMatchObject({
      status: 503,
      code: 'platform-away',
      params: { platform: 'Windlass' },
    });
  });
});

describe('the tokens of an account', () => {
  test('are refreshed ahead of time, by one server alone', async () => {
    const { id } = (await link(house, 'skerry', { outlets: ['quay'] })).body;
    const before = await row(id);
    await pass(HOUR - 5 * 60_000);
    await Promise.all([tokens().work(), tokens().work()]);
    const after = await row(id);
    expect(after.sealedRefreshToken).not.toBe(before.sealedRefreshToken);
    expect(after).toMatchObject({ endedAtMs: null, claimedUntilMs: null });
    await pass(2 * HOUR);
    const answers = await Promise.all([tokenOf(after), tokenOf(after), tokenOf(after)]);
    expect(new Set(answers.map((answer) => answer.ok && answer.value)).size).toBe(1);
    expect((await row(id)).endedAtMs).toBeNull();
  });

  test('wait while a platform is out of order, and are refreshed when it is back', async () => {
    const { id } = (await link(house, 'skerry', { outlets: ['quay'] })).body;
    await pass(2 * HOUR);
    // The interface is out of order, and so is what gives tokens.
    world.platforms.skerry.setFault('outage');
    await tokens().work();
    expect(await tokenOf(await row(id))).toMatchObject({ ok: false, error: { code: 'out-of-order' } });
    world.platforms.skerry.setFault('none');
    expect((await tokenOf(await row(id))).ok).toBe(true);
  });

  test('are good for nothing once the consent is revoked: it is told, and linking again keeps what was chosen', async () => {
    const { id } = (await link(house, 'skerry', { outlets: ['quay', 'rowers'] })).body;
    const [outlet] = (await outletsOf(id, 'named=gig')).items;
    await choose(id, outlet!.id);
    world.platforms.skerry.consents.revokeAll('ines');
    await pass(2 * HOUR);
    await tokens().work();
    expect((await accounts())[0]!.endedAtMs).not.toBeNull();
    expect((await server.happenings(id)).at(-1)).toMatchObject({ kind: 'account-ended', by: 'system' });
    expect((await house.post<Problem>(`/api/accounts/${id}/look`)).body.code).toBe('account-ended');
    expect((await link(house, 'skerry', { outlets: ['quay'] }, id)).body.id).toBe(id);
    const [account] = await accounts();
    expect(account).toMatchObject({ endedAtMs: null, outletCount: 1 });
    expect(account!.chosen).toMatchObject([{ name: 'Gig rowers', isThere: false }]);
  });
});

test('a token that the platform takes no more is renewed in passing, and a consent that has ended is found out', async () => {
  const { id } = (await link(house, 'skerry', { outlets: ['quay'] })).body;
  world.platforms.skerry.consents.expireAccess();
  expect((await house.post(`/api/accounts/${id}/look`)).status).toBe(200);
  world.platforms.skerry.consents.revokeAll('ines');
  expect((await house.post<Problem>(`/api/accounts/${id}/look`)).body.code).toBe('account-ended');
  expect((await accounts())[0]!.endedAtMs).not.toBeNull();
});

test('what has changed over there is seen on asking: a name, a group that lets us in', async () => {
  const { id } = (await link(house, 'skerry', { outlets: ['quay', 'friends'] })).body;
  expect((await outletsOf(id, 'named=friends')).items[0]!.hasLetIn).toBe(false);
  world.platforms.skerry.directory.allow('friends', true);
  world.platforms.skerry.directory.rename('quay', 'The quay');
  await house.post(`/api/accounts/${id}/look`);
  const { items } = await outletsOf(id);
  expect(items.map(({ name, hasLetIn }) => [name, hasLetIn])).toEqual([
    ['Friends of the Quay', true],
    ['The quay', true],
  ]);
});

test('what has changed over there is seen without asking within hours', async () => {
  const id = await platforms.link(house, 'windlass', { outlets: ['bells'] });
  await choose(id, (await outletsOf(id)).items[0]!.id);
  world.platforms.windlass.directory.rename('bells', 'The ringers');
  await pass(4 * HOUR);
  await server.app.get(AccountLooks).work();
  expect((await accounts())[0]!.chosen.map(({ name }) => name)).toEqual(['The ringers']);
});
