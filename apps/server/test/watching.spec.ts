import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { Level } from '@heliphon/core/inherited';
import type { ChatPage } from '@heliphon/contracts/chat';
import type { ChannelView, PublicChannel } from '@heliphon/contracts/channels';
import type { EventView, ReadinessView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type {
  Admitted,
  InvitedView,
  InviteOutcome,
  SeenAsView,
  WatchingView,
} from '@heliphon/contracts/watching';
import { AdmissionsService } from '../src/watching/admissions.service.js';
import type { MailBox } from '../../standins/src/mail/mail-box.js';
import { type Answer, type HouseClient, startWithMail, type ServerDriver, until } from './driver.js';

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
let house: HouseClient;
let event: EventView;
beforeAll(async () => {
  ({ server, mail, stop } = await startWithMail({ trustedProxies: ['127.0.0.1'] }));
});
afterAll(() => stop());
beforeEach(async () => {
  house = await server.house();
  event = await house.event(600, 660);
});

const at = (level: Level, id: string): string => `/api/watching/${level}/${id}`;
const ofEvent = (): string => at('event', event.id);
const view = async (path: string, by = house): Promise<WatchingView> =>
  (await by.get<WatchingView>(path)).body;
const say = async (path: string, own: OwnWatchRules, by = house) =>
  by.put<WatchingView>(path, (await view(path, by)).version, { own });
const seen = async (headers: Record<string, string> = {}, query = ''): Promise<PublicEvent> => {
  const path = `/api/public/events/${event.slug}${query}`;
  return (await server.anybody().ask<PublicEvent>('GET', path, undefined, headers)).body;
};
const admit = (wish: object, from = '203.0.113.9'): Promise<Answer<Admitted & Problem>> =>
  server.anybody().post(`/api/public/events/${event.slug}/admit`, wish, { 'x-forwarded-for': from });
const token = async (wish: object): Promise<Record<string, string>> => ({
  'heliphon-admission': (await admit(wish)).body.token,
});
const setPassword = (password: string, path = ofEvent()) =>
  house.ask('PUT', `${path}/password`, { password });

describe('a password', () => {
  test('opens what it is told for, however it is typed; without it nothing is given but that there is something', async () => {
    await setPassword('Lamp upon the water');
    await say(ofEvent(), { live: 'password' });
    const stranger = await seen();
    expect(stranger).toMatchObject({
      title: event.title,
      refusal: { why: 'password' },
      pass: null,
      playback: null,
      chat: { state: 'off' },
    });
    expect(await admit({ password: 'lamp' })).toMatchObject({
      status: 403,
      body: { code: 'watch-password-wrong' },
    });
    const shown = await token({ password: ' lamp upon  the WATER' });
    expect(await seen(shown)).toMatchObject({ refusal: null, pass: expect.stringMatching(/^v1\.guarded\./) });
  });

  test('is that of the nearest level that has one; a changed one opens to nobody who knew the other', async () => {
    await setPassword('of the house', at('house', house.houseId));
    await say(at('house', house.houseId), { live: 'password' });
    expect(await view(ofEvent())).toMatchObject({
      passwordFrom: 'house',
      above: { from: { live: 'house' } },
    });
    const shown = await token({ password: 'of the house' });
    expect((await seen(shown)).refusal).toBeNull();
    await setPassword('of the evening');
    expect((await seen(shown)).refusal).toEqual({ why: 'password' });
    expect((await admit({ password: 'of the house' })).status).toBe(403);
    expect((await seen(await token({ password: 'of the evening' }))).refusal).toBeNull();
    await house.delete(`${ofEvent()}/password`);
    expect((await seen(shown)).refusal).toBeNull();
  });

  test('is read again by those who tell it, and by nobody else', async () => {
    await setPassword('lamplight');
    expect((await house.get(`${ofEvent()}/password`)).body).toEqual({ password: 'lamplight' });
    const helper = await server.member(house.houseId, 'moderator');
    expect((await helper.get(`${ofEvent()}/password`)).status).toBe(403);
    const other = await server.house();
    expect((await other.get(`${ofEvent()}/password`)).status).toBe(404);
    const history = JSON.stringify((await house.get('/api/happenings')).body);
    expect(history).toContain('watch-password-set');
    expect(history).not.toContain('lamplight');
  });

  test('is not found by trying: one address is stopped, others still come in', async () => {
    await setPassword('lamplight');
    await say(ofEvent(), { live: 'password' });
    const tries = [];
    for (let count = 0; count < 25; count += 1)
      tries.push(await admit({ password: `try ${count}` }, '198.51.100.7'));
    expect(tries.at(-1)).toMatchObject({ status: 429, body: { code: 'watch-too-many-tries' } });
    expect((await admit({ password: 'lamplight' }, '198.51.100.7')).status).toBe(429);
    expect((await admit({ password: 'lamplight' }, '198.51.100.8')).status).toBe(200);
  });

  test('of another event is worth nothing', async () => {
    await setPassword('lamplight');
    const shown = await token({ password: 'lamplight' });
    event = await house.event(700, 760);
    await setPassword('lamplight');
    await say(ofEvent(), { live: 'password' });
    expect((await seen(shown)).refusal).toEqual({ why: 'password' });
  });
});

test('a browser that has not been here for half a year is asked again', async () => {
  await setPassword('lamplight');
  await say(ofEvent(), { live: 'password' });
  const shown = await token({ password: 'lamplight' });
  const forget = () => server.app.get(AdmissionsService).tidy();
  await forget();
  expect((await seen(shown)).refusal).toBeNull();
  await server.setClock(181 * 86_400_000);
  await forget();
  await server.setClock(0);
  expect((await seen(shown)).refusal).toEqual({ why: 'password' });
});

describe('people who are invited', () => {
  const invite = (list: string, more: object = {}) =>
    house.post<InviteOutcome & Problem>(`${ofEvent()}/invited`, {
      list,
      devicesMost: 1,
      sendsLetters: false,
      ...more,
    });
  const invited = async (): Promise<readonly InvitedView[]> =>
    (await house.get<Page<InvitedView>>(`${ofEvent()}/invited`)).body.items;
  const linkOf = async (name: string): Promise<string> => {
    const one = (await invited()).find((known) => known.name === name)!;
    const { body } = await house.get<{ url: string }>(`${ofEvent()}/invited/${one.id}/link`);
    return body.url.split('#i=')[1]!;
  };

  test('come in by a link of their own, which a letter brings', async () => {
    await say(ofEvent(), { live: 'invited' });
    const list = 'Ines Quill <ines@quay.example>\nTomas Reed\nnobody@';
    expect((await invite(list, { sendsLetters: true })).body).toEqual({
      added: 2,
      alreadyThere: 0,
      unreadableLines: [3],
    });
    const letter = await until(() => mail.letters.find(({ to }) => to === 'ines@quay.example'), 'the letter');
    expect(letter.text).toContain(`/watch/${event.slug}#i=`);
    const invitation = /#i=([0-9a-z]+)/.exec(letter.text)![1]!;
    expect((await seen()).refusal).toEqual({ why: 'invited' });
    expect((await seen(await token({ invitation }))).refusal).toBeNull();
    expect((await admit({ invitation: 'a'.repeat(32) })).body.code).toBe('watch-invitation-unknown');
  });

  test('are each invited once, whatever is pasted', async () => {
    const list = Array.from({ length: 300 }, (_, index) => `guest${index}@quay.example`).join('\n');
    expect((await invite(list)).body.added).toBe(300);
    expect((await invite(`${list}\nlate@quay.example`)).body).toMatchObject({ added: 1, alreadyThere: 300 });
    const many = Array.from({ length: 4700 }, (_, index) => `more${index}@quay.example`).join('\n');
    expect(await invite(many)).toMatchObject({ status: 422, body: { code: 'viewers-too-many' } });
  });

  test('watch on as many devices as they may: those who watch already stay', async () => {
    await say(ofEvent(), { live: 'invited' });
    await invite('Tomas Reed');
    const invitation = await linkOf('Tomas Reed');
    const [first, second] = [await token({ invitation }), await token({ invitation })];
    // The one that came last is the one that is seen to watch first here: who has just come counts as watching.
    expect((await seen(second)).refusal).toEqual({ why: 'devices', most: 1 });
    await server.setClock(120_000);
    expect((await seen(first)).refusal).toBeNull();
    expect((await seen(second)).refusal).toEqual({ why: 'devices', most: 1 });
    await server.setClock(0);
  });

  test('are out once they are withdrawn, and in again once that is undone', async () => {
    await say(ofEvent(), { live: 'invited' });
    await invite('Tomas Reed');
    const shown = await token({ invitation: await linkOf('Tomas Reed') });
    const { pass } = await seen(shown);
    const chat = (headers: Record<string, string>) =>
      server
        .anybody()
        .ask<ChatPage & Problem>('GET', `/api/public/events/${event.slug}/chat`, undefined, headers);
    expect((await chat({ 'heliphon-pass': pass! })).status).toBe(200);
    expect((await chat({})).body.code).toBe('not-admitted');
    const [one] = await invited();
    expect((await house.delete(`${ofEvent()}/invited/${one!.id}`)).status).toBe(204);
    expect((await seen(shown)).refusal).toEqual({ why: 'invited' });
    await server.setClock(60_000);
    expect((await chat({ 'heliphon-pass': pass! })).body.code).toBe('not-admitted');
    await server.setClock(0);
    await house.post('/api/happenings/undo-last', { subjectId: event.id });
    expect((await seen(shown)).refusal).toBeNull();
  });
});

describe('others', () => {
  test('people of the house see what is for them, and whatever else is kept from viewers', async () => {
    await say(ofEvent(), { live: 'house' });
    expect((await seen()).refusal).toEqual({ why: 'house' });
    const member = await server.member(house.houseId, 'operator');
    const asked = await member.get<PublicEvent>(`/api/public/events/${event.slug}`);
    expect(asked.body.refusal).toBeNull();
    const stranger = await server.house();
    const other = await stranger.get<PublicEvent>(`/api/public/events/${event.slug}`);
    expect(other.body.refusal).toEqual({ why: 'house' });
  });

  test('a country is known by the address behind a trusted proxy', async () => {
    const from = async (address: string) => (await seen({ 'x-forwarded-for': address })).refusal;
    await say(ofEvent(), { countries: { kind: 'only', codes: ['GB'], admitsUnknown: false } });
    expect(await from('81.2.69.142')).toBeNull();
    expect(await from('193.0.6.139')).toEqual({ why: 'country' });
    expect(await from('192.168.1.7')).toEqual({ why: 'country' });
    await say(ofEvent(), { countries: { kind: 'not', codes: ['GB'], admitsUnknown: true } });
    expect([await from('81.2.69.142'), await from('192.168.1.7')]).toEqual([{ why: 'country' }, null]);
  });

  test('on named websites alone its embed plays, and says elsewhere where it may', async () => {
    await say(ofEvent(), { sites: { kind: 'only', hosts: ['quay.example'] } });
    expect((await seen({}, '?on=quay.example')).refusal).toBeNull();
    expect((await seen({}, '?on=copies.example')).refusal).toEqual({ why: 'site', hosts: ['quay.example'] });
    expect((await seen()).refusal).toEqual({ why: 'site', hosts: ['quay.example'] });
    const embed = async (referer?: string) =>
      (await fetch(`${server.url}/embed/${event.slug}`, referer ? { headers: { referer } } : {})).headers.get(
        'content-security-policy',
      );
    expect(await embed('https://quay.example/live')).toContain("frame-ancestors 'self' quay.example");
    // Elsewhere it comes all the same, to say why it does not play.
    expect(await embed('https://copies.example/')).toContain('frame-ancestors *');
    expect(await embed()).toContain("frame-ancestors 'self' quay.example");
  });

  test('what is for those with the link alone stands on no channel and in no calendar', async () => {
    const { body: channel } = await house.post<ChannelView>('/api/channels', {
      name: 'Chapel',
      description: '',
    });
    const series = await house.series({ channelId: channel.id });
    const listed = async () => {
      const page = await house.get<PublicChannel>(`/api/public/channels/${channel.slug}`);
      return page.body.coming.map(({ slug }) => slug);
    };
    const calendar = async () =>
      (await house.get<string>(`/api/public/channels/${channel.slug}/calendar.ics`)).body;
    const [first] = await listed();
    event = (await house.get<Page<EventView>>('/api/events')).body.items.find(({ slug }) => slug === first)!;
    expect(await calendar()).not.toContain('EXDATE');
    await say(ofEvent(), { live: 'link' });
    await until(async () => !(await listed()).includes(first!), 'the date to be hidden');
    expect(await calendar()).toContain('EXDATE');
    await say(at('series', series.id), { live: 'link' });
    await until(async () => (await listed()).length === 0, 'the series to be hidden');
    expect(await calendar()).not.toContain('VEVENT');
  });

  test('what is for those with the link alone is found by nobody else', async () => {
    const robots = async () => (await fetch(`${server.url}/watch/${event.slug}`)).headers.get('x-robots-tag');
    expect(await robots()).toBeNull();
    await say(ofEvent(), { live: 'link' });
    await until(async () => (await robots()) === 'noindex', 'it to be hidden');
    expect((await seen()).refusal).toBeNull();
  });

  test('a rehearsal is for everybody who has its address', async () => {
    await say(at('house', house.houseId), { live: 'house', replay: 'house' });
    const source = await house.source('Chapel desk');
    event = await house.event(600, 660, source.id);
    const { body: rehearsal } = await house.post<{ slug: string }>(`/api/events/${event.id}/rehearsals`, {});
    expect((await seen()).refusal).toEqual({ why: 'house' });
    const shown = await server.anybody().get<PublicEvent>(`/api/public/events/${rehearsal.slug}`);
    expect(shown.body).toMatchObject({ isRehearsal: true, refusal: null, pass: null });
  });

  test('a title that is not for everybody stands nowhere', async () => {
    await say(ofEvent(), { live: 'house', showsTitle: false });
    const shown = await seen();
    expect(JSON.stringify(shown)).not.toContain(event.title);
    const page = await (await fetch(`${server.url}/watch/${event.slug}`)).text();
    expect(page).not.toContain(event.title);
    const oembed = await server
      .anybody()
      .get(`/oembed?url=${encodeURIComponent(`${server.url}/watch/${event.slug}`)}`);
    expect(JSON.stringify(oembed.body)).not.toContain(event.title);
  });
});

test('the house sees its page as others do', async () => {
  await setPassword('lamplight');
  await say(ofEvent(), {
    live: 'password',
    countries: { kind: 'only', codes: ['GB'], admitsUnknown: false },
  });
  const as = async (who: object) =>
    (
      await house.post<SeenAsView>(`${ofEvent()}/seen-as`, {
        country: 'GB',
        site: null,
        knowsPassword: false,
        isInvited: false,
        ...who,
      })
    ).body.event?.refusal;
  expect(await as({})).toEqual({ why: 'password' });
  expect(await as({ knowsPassword: true })).toBeNull();
  expect(await as({ knowsPassword: true, country: 'FR' })).toEqual({ why: 'country' });
  const other = await server.house();
  const asked = { country: null, site: null, knowsPassword: false, isInvited: false };
  expect((await other.post(`${ofEvent()}/seen-as`, asked)).status).toBe(404);
});

describe('the rules', () => {
  test('are changed by those who plan, of the house by its owners; at a version, and undone', async () => {
    const producer = await server.member(house.houseId, 'producer');
    const helper = await server.member(house.houseId, 'moderator');
    const ofHouse = at('house', house.houseId);
    expect((await say(ofEvent(), { live: 'link' }, producer)).status).toBe(200);
    expect((await say(ofEvent(), { live: 'house' }, helper)).status).toBe(403);
    expect((await say(ofHouse, { live: 'house' }, producer)).body).toMatchObject({ code: 'not-allowed' });
    const other = await server.house();
    expect((await other.get(ofEvent())).status).toBe(404);
    expect((await other.get(ofHouse)).status).toBe(404);
    expect((await other.put(ofHouse, 1, { own: {} })).status).toBe(404);
    expect((await house.put(ofEvent(), 1, { own: {} })).status).toBe(412);
    await say(ofHouse, { replay: 'house' });
    await house.post('/api/happenings/undo-last', { subjectId: house.houseId });
    expect((await view(ofHouse)).own).toEqual({});
  });

  test.each([
    [{ live: 'friends' }],
    [{ sites: { kind: 'only', hosts: ['https://quay.example/'] } }],
    [{ sites: { kind: 'only', hosts: ["quay.example; script-src 'unsafe-inline'"] } }],
    [{ sites: { kind: 'only', hosts: [] } }],
    [{ countries: { kind: 'only', codes: ['England'], admitsUnknown: true } }],
    [{ countries: { kind: 'only', codes: ['GB'] } }],
  ])('are refused where they say nothing: %j', async (own) => {
    expect((await say(ofEvent(), own as OwnWatchRules)).status).toBe(422);
    expect((await view(ofEvent())).own).toEqual({});
  });

  test('reach the media node: whose grants end, and which replays are not for those who saw it live', async () => {
    const node = await server.dialAsNode();
    node.introduce();
    event = await house.event(5, 65);
    await until(async () => (await house.current(event)).state === 'doors', 'its doors');
    await say(ofEvent(), { replay: 'house' });
    const desired = await until(
      () => node.desired?.guardedReplays.includes(event.programmeId) && node.desired,
      'the node to know',
    );
    expect(desired.grantTurns[house.houseId]).toEqual({
      publicAtMs: expect.any(Number),
      guardedAtMs: [expect.any(Number)],
    });
    node.close();
  });

  test('that nobody can meet let nobody in, and are warned of: there is no password yet', async () => {
    await say(ofEvent(), { live: 'password' });
    expect((await view(ofEvent())).passwordFrom).toBeNull();
    expect((await admit({ password: randomUUID() })).body.code).toBe('watch-password-wrong');
    const check = async () =>
      (await house.get<ReadinessView>(`/api/events/${event.id}/readiness`)).body.checks.find(
        ({ code }) => code === 'watching',
      );
    expect(await check()).toMatchObject({ status: 'warns', detail: { kind: 'no-password' } });
    await setPassword('lamplight');
    expect(await check()).toMatchObject({ status: 'passed' });
  });
});
