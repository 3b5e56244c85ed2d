import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { parseRtmpAddress } from '@heliphon/core/destinations/rtmp-address';
import type {
  Connector,
  ConnectorRefusal,
  ConsentAsk,
  Grant,
  PostingWish,
} from '../src/connectors/connector.js';
import { SkerryConnector } from '../src/connectors/skerry.js';
import { WindlassConnector } from '../src/connectors/windlass.js';
import { freePort } from '../../keeper/src/ports.js';
import type { Platforms } from '../../standins/src/platforms/open-platforms.js';
import { answerConsent, CLIENT, type Given, type PlatformName, World } from '../../standins/test/world.js';

// What every platform has to be able to do for us, whatever its own interface is like.

const NOW_MS = Date.UTC(2026, 2, 7, 10);
const REDIRECT_BASE = 'http://127.0.0.1:9/linked';
const OURS = {
  skerry: { Connector: SkerryConnector, outlets: ['quay', 'friends'] },
  windlass: { Connector: WindlassConnector, outlets: ['bells', 'quay-films'] },
} as const;

let world: World;
let platforms: Platforms;
beforeAll(async () => {
  world = await World.open(REDIRECT_BASE, () => NOW_MS);
  ({ platforms } = world);
});
afterAll(() => world.close());

const connectorOf = (name: PlatformName, url = world.sites[name]): Connector =>
  new OURS[name].Connector({ url, clientId: CLIENT.id, clientSecret: CLIENT.secret }, () => NOW_MS);

const askOf = (name: PlatformName): ConsentAsk => ({
  state: randomUUID(),
  verifier: randomUUID() + randomUUID(),
  redirectAddress: `${REDIRECT_BASE}/${name}`,
});

/** @returns where the person's browser is sent back to */
const consent = async (name: PlatformName, ask: ConsentAsk, given: Given = {}): Promise<URL> =>
  answerConsent(await connectorOf(name).consentAddress(ask), { outlets: OURS[name].outlets, ...given });

async function link(name: PlatformName, given: Given = {}): Promise<Grant> {
  const ask = askOf(name);
  return valueOf(await connectorOf(name).exchange(await consent(name, ask, given), ask));
}

function valueOf<T>(answer: { ok: true; value: T } | { ok: false; error: ConnectorRefusal }): T {
  if (!answer.ok) throw new Error(`Refused: ${JSON.stringify(answer.error)}`);
  return answer.value;
}
const refusal = (code: ConnectorRefusal['code']) => ({ ok: false, error: { code } });

describe.each(Object.keys(OURS) as PlatformName[])('%s', (name) => {
  let connector: Connector;
  let grant: Grant;
  let wish: PostingWish;
  beforeEach(async () => {
    connector = connectorOf(name);
    grant = await link(name);
    wish = {
      outletId: OURS[name].outlets[0],
      ref: randomUUID(),
      title: 'Lamplight Evensong',
      text: 'From the harbour chapel.',
      startsAtMs: NOW_MS + 86_400_000,
      audience: 'everyone',
    };
  });

  test('is linked by a consent, and says whose account it is and what may be used', async () => {
    expect(grant.accessEndsAtMs).toBe(NOW_MS + 3_600_000);
    const account = valueOf(await connector.account(grant.accessToken));
    expect(account).toMatchObject({
      id: 'ines',
      name: 'Ines Tarrow',
      consentEndsAtMs: NOW_MS + 60 * 86_400_000,
    });
    const outlets = valueOf(await connector.outlets(grant.accessToken));
    expect(outlets.map(({ id }) => id)).toEqual(OURS[name].outlets);
  });

  test('is not linked where the person says no, the answer is to another question, or the code is used up', async () => {
    const ask = askOf(name);
    const denied = await consent(name, ask, { answer: 'deny' });
    expect(await connector.exchange(denied, ask)).toMatchObject(refusal('consent-ended'));
    const back = await consent(name, ask);
    expect(await connector.exchange(back, { ...ask, state: 'another' })).toMatchObject(
      refusal('not-understood'),
    );
    valueOf(await connector.exchange(back, ask));
    expect(await connector.exchange(back, ask)).toMatchObject(refusal('consent-ended'));
  });

  test('has tokens that are renewed, until the consent is taken back', async () => {
    const renewed = valueOf(await connector.refresh(grant.refreshToken));
    expect(renewed.refreshToken).not.toBe(grant.refreshToken);
    platforms[name].consents.expireAccess();
    expect(await connector.account(renewed.accessToken)).toMatchObject(refusal('token-expired'));
    const again = valueOf(await connector.refresh(renewed.refreshToken));
    valueOf(await connector.revoke(again.refreshToken));
    expect(await connector.account(again.accessToken)).toMatchObject(refusal('token-expired'));
    expect(await connector.refresh(again.refreshToken)).toMatchObject(refusal('consent-ended'));
  });

  test('posts once however often it is asked, changes what stands, and takes it down', async () => {
    const { accessToken } = grant;
    const posted = valueOf(await connector.post(accessToken, wish));
    expect(posted).toMatchObject({
      state: 'planned',
      title: wish.title,
      startsAtMs: wish.startsAtMs,
      audience: 'everyone',
    });
    const address = parseRtmpAddress(posted.ingestAddress);
    expect(address.ok && address.value.scheme).toBe(connector.facts.isSecure ? 'rtmps' : 'rtmp');
    expect(valueOf(await connector.post(accessToken, wish)).id).toBe(posted.id);
    expect(valueOf(await connector.find(accessToken, wish))?.id).toBe(posted.id);
    expect(valueOf(await connector.find(accessToken, { ...wish, ref: randomUUID() }))).toBeNull();

    const moved = {
      ...wish,
      title: 'x'.repeat(300),
      startsAtMs: wish.startsAtMs + 3_600_000,
      audience: 'only-me',
    } as const;
    valueOf(await connector.change(accessToken, posted.id, moved));
    valueOf(await connector.picture(accessToken, posted.id, Uint8Array.of(0xff, 0xd8, 0xff, 0xd9)));
    const stands = valueOf(await connector.look(accessToken, posted.id));
    expect(stands).toMatchObject({ startsAtMs: moved.startsAtMs, audience: 'only-me' });
    expect(stands.title).toHaveLength(connector.facts.titleLength);

    valueOf(await connector.takeDown(accessToken, posted.id));
    expect(await connector.look(accessToken, posted.id)).toMatchObject(refusal('unknown'));
  });

  test('begins where it wants to be begun, counts who looks, and ends', async () => {
    const { accessToken } = grant;
    const { id, link: page } = valueOf(await connector.post(accessToken, wish));
    const begun = valueOf(await connector.begin(accessToken, id));
    expect(begun.state).toBe(connector.facts.needsStart ? 'open' : 'planned');
    await fetch(page);
    expect(valueOf(await connector.viewers(accessToken, id))).toBe(1);
    expect(valueOf(await connector.end(accessToken, id))).toMatchObject({
      state: 'ended',
      endedBecause: 'sender',
    });
  });

  test('refuses what the consent does not cover, and what is another’s', async () => {
    const { accessToken } = await link(name, { outlets: [OURS[name].outlets[1]] });
    expect(await connector.post(accessToken, wish)).toMatchObject(refusal('not-granted'));
    const { id } = valueOf(await connector.post(grant.accessToken, wish));
    expect(await connector.look(accessToken, id)).toMatchObject(refusal('unknown'));
  });

  test.each([
    ['outage', { code: 'out-of-order' }],
    ['rate-limit', { code: 'busy', retryAfterMs: 20_000 }],
  ] as const)('under %s it says so', async (fault, error) => {
    platforms[name].setFault(fault);
    const answer = await connector.account(grant.accessToken);
    platforms[name].setFault('none');
    expect(answer).toEqual({ ok: false, error });
  });

  test('is out of order where nobody answers, and not understood where somebody else does', async () => {
    const nobody = connectorOf(name, `http://localhost:${await freePort()}`);
    expect(await nobody.refresh(grant.refreshToken)).toMatchObject(refusal('out-of-order'));
    expect(await nobody.account(grant.accessToken)).toMatchObject(refusal('out-of-order'));
    const other = connectorOf(name, world.sites[name === 'skerry' ? 'windlass' : 'skerry']);
    expect(await other.account(grant.accessToken)).toMatchObject(refusal('not-understood'));
  });
});

test('a group that has not let us in, a wall that only its owner sees, and comments belong to Skerry', async () => {
  const skerry = connectorOf('skerry');
  const { accessToken } = await link('skerry', { outlets: ['friends', 'wall-ines'], audience: 'only-me' });
  const wish = {
    ref: randomUUID(),
    title: 'Tea',
    text: '',
    startsAtMs: NOW_MS,
    audience: 'everyone',
  } as const;
  const outlets = valueOf(await skerry.outlets(accessToken));
  expect(outlets.map(({ kind, hasLetIn }) => [kind, hasLetIn])).toEqual([
    ['group', false],
    ['wall', true],
  ]);
  expect(await skerry.post(accessToken, { ...wish, outletId: 'friends' })).toMatchObject(
    refusal('not-let-in'),
  );
  const { id, audience } = valueOf(await skerry.post(accessToken, { ...wish, outletId: 'wall-ines' }));
  expect(audience).toBe('only-me');
  for (let line = 1; line <= 101; line += 1)
    platforms.skerry.postings.comment(id, 'Wren', `Line ${line}`, NOW_MS);
  const comments = valueOf(await skerry.comments(accessToken, id, null));
  expect(comments).toHaveLength(101);
  const later = valueOf(await skerry.comments(accessToken, id, comments[99]!.id));
  expect(later.map(({ author, text }) => [author, text])).toEqual([['Wren', 'Line 101']]);
});

test('an account may have three thousand outlets', async () => {
  platforms.skerry.directory.addMany('ines');
  const ids = platforms.skerry.directory.outletsOf('ines').map(({ id }) => id);
  const { accessToken } = await link('skerry', { outlets: ids });
  expect(valueOf(await connectorOf('skerry').outlets(accessToken))).toHaveLength(ids.length);
});
