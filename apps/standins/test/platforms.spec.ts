import { type ChildProcess, spawn } from 'node:child_process';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { Platforms } from '../src/platforms/open-platforms.js';
import { PlatformClient, REDIRECT_BASE } from './platform-client.js';
import { World } from './world.js';
import { until } from '../../../tests/until.js';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

interface Broadcast {
  readonly id: string;
  readonly state: string;
  readonly audience: string;
  readonly ended_because: string | null;
  readonly ingest: { readonly server: string; readonly key: string };
}
interface Film {
  readonly film: string;
  readonly phase: string;
  readonly intake: { readonly url: string; readonly streamKey: string };
}

let world: World;
let platforms: Platforms;
let skerry: PlatformClient;
let windlass: PlatformClient;
let nowMs: number;
const senders = new Set<ChildProcess>();

beforeEach(async () => {
  nowMs = Date.UTC(2026, 2, 7, 10);
  world = await World.open(REDIRECT_BASE, () => nowMs);
  ({ platforms } = world);
  skerry = new PlatformClient(world.sites.skerry, 'skerry');
  windlass = new PlatformClient(world.sites.windlass, 'windlass');
});
afterEach(async () => {
  for (const sender of senders) sender.kill('SIGKILL');
  senders.clear();
  await world.close();
});

/** A small picture for as long as it is taken. */
function send(address: string): ChildProcess {
  const picture =
    '-re -f lavfi -i testsrc=s=1280x720:r=10 -c:v libx264 -preset ultrafast -g 10 -pix_fmt yuv420p';
  const sender = spawn('ffmpeg', ['-v', 'quiet', ...picture.split(' '), '-f', 'flv', address]);
  senders.add(sender);
  return sender;
}
const ended = (sender: ChildProcess): boolean => sender.exitCode !== null || sender.signalCode !== null;

const wish = (outlet: string, ref = 'evensong'): object => ({
  outlet,
  ref,
  title: 'Lamplight Evensong',
  text: 'From the harbour chapel.',
  starts_at: new Date(nowMs + DAY).toISOString(),
  audience: 'everyone',
});
const film = (channel: string): object => ({
  channel,
  clientRef: 'evensong',
  name: 'Lamplight Evensong',
  about: '',
  plannedFor: (nowMs + DAY) / 1000,
  visibility: 'public',
});
const post = (body: object) => skerry.call<Broadcast>('POST', '/v1/broadcasts', body);
const broadcast = (id: string) => skerry.call<Broadcast>('GET', `/v1/broadcasts/${id}`);

describe('consent', () => {
  test('is asked for by a code with PKCE, for the registered address alone', async () => {
    const page = (change: Record<string, string>) =>
      skerry.page(`/consent?${skerry.ask(change).query.toString()}`);
    expect((await page({})).status).toBe(200);
    expect((await page({ code_challenge_method: 'plain' })).status).toBe(400);
    expect((await page({ redirect_uri: 'http://elsewhere.example/' })).status).toBe(400);
    expect((await page({ client_id: 'another' })).status).toBe(400);
    const choice = await (await page({ person: 'ines' })).text();
    for (const name of ['Heliphon would like to post for you', 'Friends of the Quay (group)', 'Only me'])
      expect(choice).toContain(name);
    expect(choice).not.toContain('Hollis');
  });

  test('gives what was ticked off and nothing else, and may be denied', async () => {
    const { query } = skerry.ask();
    const denied = await skerry.answer(query, { answer: 'deny' });
    expect(Object.fromEntries(denied.searchParams)).toEqual({
      error: 'access_denied',
      state: 'state-of-ours',
    });
    await skerry.link('ines', ['quay', 'wall-hollis']);
    const { body } = await skerry.call<{ data: { id: string }[] }>('GET', '/v1/outlets');
    expect(body.data.map(({ id }) => id)).toEqual(['quay']);
    expect((await post(wish('chapel'))).status).toBe(403);
  });

  test('a code is good once, for a minute, with its own verifier', async () => {
    const { query, verifier } = skerry.ask();
    const allowed = async (): Promise<Record<string, string>> => ({
      grant_type: 'authorization_code',
      redirect_uri: skerry.redirectAddress,
      code_verifier: verifier,
      code: (await skerry.answer(query, {})).searchParams.get('code')!,
    });
    const once = await allowed();
    expect((await skerry.token({ ...once, code_verifier: 'another' })).body.error).toBe('invalid_grant');
    expect((await skerry.token(once)).body.error).toBe('invalid_grant');
    const late = await allowed();
    nowMs += MINUTE;
    expect((await skerry.token(late)).body.error).toBe('invalid_grant');
    expect((await skerry.token({ ...(await allowed()), client_secret: 'guessed' })).body.error).toBe(
      'invalid_client',
    );
    expect((await skerry.token(await allowed())).body.expires_in).toBe(3600);
  });

  test('its tokens rotate; one that is used twice ends it', async () => {
    await skerry.link('ines', ['quay']);
    const first = skerry.refresh;
    nowMs += HOUR;
    expect((await skerry.call('GET', '/v1/me')).status).toBe(401);
    await skerry.renew();
    expect((await skerry.call('GET', '/v1/me')).body).toMatchObject({ id: 'ines', name: 'Ines Tarrow' });
    expect(skerry.refresh).not.toBe(first);
    expect((await skerry.token({ grant_type: 'refresh_token', refresh_token: first })).status).toBe(400);
    expect((await skerry.call('GET', '/v1/me')).status).toBe(401);
    expect((await skerry.renew()).body.error).toBe('invalid_grant');
  });

  test('ends after sixty days, when it is revoked, and when the person takes it back', async () => {
    await windlass.link('ines', ['bells']);
    nowMs += 60 * DAY;
    expect((await windlass.renew()).status).toBe(400);
    await windlass.link('ines', ['bells']);
    await fetch(`${windlass.site}/oauth/revoke`, {
      method: 'POST',
      body: new URLSearchParams({ token: windlass.refresh }),
    });
    expect((await windlass.call('GET', '/api/2/self')).status).toBe(401);
    await windlass.link('ines', ['bells']);
    await windlass.fault({ event: 'revoke-consents' });
    expect((await windlass.call('GET', '/api/2/self')).body).toEqual({ fault: 'token-expired' });
  });
});

describe('a posting', () => {
  test('is made once, however often it is wished, and is seen on the feed', async () => {
    await skerry.link('ines', ['quay']);
    const first = (await post(wish('quay'))).body;
    expect((await post(wish('quay'))).body.id).toBe(first.id);
    expect((await skerry.call('GET', '/v1/broadcasts?ref=evensong')).body).toMatchObject({
      data: [{ id: first.id }],
    });
    await skerry.call('PATCH', `/v1/broadcasts/${first.id}`, { title: 'Evensong by candlelight' });
    await skerry.call('PUT', `/v1/broadcasts/${first.id}/picture`, Buffer.from([0xff, 0xd8, 0xff, 0xd9]));
    const feed = await (await skerry.page('/')).text();
    expect(feed).toContain('Evensong by candlelight');
    expect(feed).toContain(`<img src="/b/${first.id}/picture.jpg"`);
    await skerry.call('DELETE', `/v1/broadcasts/${first.id}`);
    expect(await (await skerry.page('/')).text()).toContain('Nobody has posted anything yet.');
    expect((await broadcast(first.id)).status).toBe(404);
  });

  test('is seen by no more people than the consent allows', async () => {
    await skerry.link('ines', ['wall-ines'], 'only-me');
    expect((await post(wish('wall-ines'))).body.audience).toBe('only-me');
  });

  test('in a group waits until the group has let the application in', async () => {
    await skerry.link('ines', ['friends']);
    expect((await post(wish('friends'))).body).toMatchObject({ error: { code: 'group_has_not_allowed' } });
    await skerry.fault({ hasAllowed: true }, '/outlets/friends');
    expect((await post(wish('friends'))).status).toBe(201);
  });

  test('of another account is not found', async () => {
    await skerry.link('ines', ['quay']);
    const { id } = (await post(wish('quay'))).body;
    await skerry.link('hollis', ['wall-hollis']);
    expect((await broadcast(id)).status).toBe(404);
  });

  test('has comments in pages, and counts who looks', async () => {
    await skerry.link('ines', ['quay']);
    const { id } = (await post(wish('quay'))).body;
    for (let number = 1; number <= 103; number += 1)
      platforms.skerry.postings.comment(id, 'Wren', `Line ${number}`, nowMs);
    const comments = (after: string) =>
      skerry.call<{ data: { text: string }[]; next: string | null }>(
        'GET',
        `/v1/broadcasts/${id}/comments?after=${after}`,
      );
    const { data, next } = (await comments('')).body;
    expect([data.length, next]).toEqual([100, '100']);
    expect((await comments(next!)).body).toMatchObject({ data: [{ text: 'Line 101' }, {}, {}], next: null });
    await skerry.page(`/b/${id}`);
    expect((await skerry.call('GET', `/v1/broadcasts/${id}/viewers`)).body).toEqual({ viewers: 1 });
  });
});

describe('a picture', () => {
  test('opens a broadcast of Skerry, which ends thirty seconds after it has stopped', async () => {
    await skerry.link('ines', ['quay']);
    const { id, ingest } = (await post(wish('quay'))).body;
    const address = `${ingest.server}/${ingest.key}`;
    const sender = send(address);
    const state = async (): Promise<string> => (await broadcast(id)).body.state;
    await until(async () => (await state()) === 'live', 'the broadcast');
    await until(
      async () => (await skerry.page(`/b/${id}/picture.jpg`)).status === 200,
      'its picture on the page',
    );
    sender.kill('SIGKILL');
    await until(() => !platforms.skerry.isLive(platforms.skerry.postings.get(id)!), 'the end of the picture');
    platforms.skerry.tick();
    nowMs += 29_000;
    platforms.skerry.tick();
    expect(await state()).toBe('live');
    nowMs += 2000;
    platforms.skerry.tick();
    expect((await broadcast(id)).body).toMatchObject({ state: 'ended', ended_because: 'no-picture' });
    const again = send(address);
    await until(() => ended(again), 'the refusal');
  });

  test('of Skerry is not shown for more than four hours', async () => {
    await skerry.link('ines', ['quay']);
    const { id, ingest } = (await post(wish('quay'))).body;
    const sender = send(`${ingest.server}/${ingest.key}`);
    await until(() => platforms.skerry.isLive(platforms.skerry.postings.get(id)!), 'the picture');
    nowMs += 4 * HOUR;
    platforms.skerry.tick();
    await skerry.renew();
    expect((await broadcast(id)).body.ended_because).toBe('too-long');
    await until(() => ended(sender), 'the end of the connection');
  });

  test('comes to Windlass over TLS, by the lasting key too, once its film has been started', async () => {
    await windlass.link('ines', ['bells']);
    const { body } = await windlass.call<Film>('POST', '/api/2/films', film('bells'));
    const { channels } = (
      await windlass.call<{ channels: { lastingKey: string }[] }>('GET', '/api/2/channels')
    ).body;
    const address = `${body.intake.url}/${channels[0]!.lastingKey}`;
    expect(address).toMatch(/^rtmps:\/\//);
    const early = send(address);
    await until(() => ended(early), 'the refusal');
    expect((await windlass.call<Film>('POST', `/api/2/films/${body.film}/start`)).body.phase).toBe('open');
    send(address);
    await until(() => platforms.windlass.isLive(platforms.windlass.postings.get(body.film)!), 'the picture');
    expect((await windlass.call<Film>('POST', `/api/2/films/${body.film}/finish`)).body).toMatchObject({
      phase: 'over',
      overBecause: 'sender',
    });
  });

  test('is awaited by a film that was started for ten minutes', async () => {
    await windlass.link('ines', ['bells']);
    const { body } = await windlass.call<Film>('POST', '/api/2/films', film('bells'));
    await windlass.call('POST', `/api/2/films/${body.film}/start`);
    nowMs += 10 * MINUTE - 1;
    platforms.windlass.tick();
    expect(platforms.windlass.postings.get(body.film)?.state.is).toBe('open');
    nowMs += 1;
    platforms.windlass.tick();
    expect(platforms.windlass.postings.get(body.film)?.state).toMatchObject({
      is: 'ended',
      because: 'no-picture',
    });
  });
});

describe('what goes wrong there', () => {
  test.each([
    ['outage', 500, null],
    ['rate-limit', 429, '20'],
  ])('%s: every question is answered by %d, until it is put right', async (fault, status, retryAfter) => {
    await skerry.link('ines', ['quay']);
    await skerry.fault({ fault });
    const answer = await skerry.call('GET', '/v1/me');
    expect([answer.status, answer.headers.get('retry-after')]).toEqual([status, retryAfter]);
    await skerry.fault({ fault: 'none' });
    expect((await skerry.call('GET', '/v1/me')).status).toBe(200);
  });

  test('a good key is refused', async () => {
    await skerry.link('ines', ['quay']);
    const { ingest } = (await post(wish('quay'))).body;
    await skerry.fault({ fault: 'refuse-key' });
    const sender = send(`${ingest.server}/${ingest.key}`);
    await until(() => ended(sender), 'the refusal');
  });

  test('postings are lost, and tokens run out', async () => {
    await skerry.link('ines', ['quay']);
    const { id } = (await post(wish('quay'))).body;
    await skerry.fault({ event: 'lose-postings' });
    expect((await broadcast(id)).status).toBe(404);
    await skerry.fault({ event: 'expire-tokens' });
    expect((await skerry.call('GET', '/v1/me')).status).toBe(401);
    expect((await skerry.renew()).status).toBe(200);
  });

  test('there are three thousand pages, and one is called otherwise', async () => {
    await skerry.fault({ event: 'many-outlets' });
    const everything = platforms.skerry.directory.outletsOf('ines').map(({ id }) => id);
    await skerry.link('ines', everything);
    await skerry.fault({ name: 'The quay' }, '/outlets/quay');
    const names: string[] = [];
    for (let after: string | null = ''; after !== null;) {
      const path: string = `/v1/outlets?after=${after}`;
      const { body } = await skerry.call<{ data: { name: string }[]; next: string | null }>('GET', path);
      names.push(...body.data.map(({ name }) => name));
      after = body.next;
    }
    expect(names).toHaveLength(3005);
    expect(names).toContain('The quay');
    expect(names).not.toContain('Lantern Quay Commons');
  });

  test('all of it can be tried on a page', async () => {
    const page = await (await skerry.page('/faults')).text();
    for (const words of [
      'Hang up every 20 s',
      'Everybody takes their consent back',
      'Let the application into “Friends of the Quay”',
    ])
      expect(page).toContain(words);
  });
});
