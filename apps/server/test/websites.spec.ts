import { once } from 'node:events';
import { createServer, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { EventView } from '@heliphon/contracts/events';
import type { Problem } from '@heliphon/contracts/problem';
import type { WebsitesView } from '@heliphon/contracts/websites';
import type { MailBox } from '../../standins/src/mail/mail-box.js';
import { WebsiteWatch } from '../src/websites/website-watch.js';
import { type Answer, type HouseClient, ServerDriver, startWithMail, until } from './driver.js';

/** Where people reach us. */
const OURS = 'https://live.quay.example';

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
let site: Server;
let answer: RequestListener;
let siteUrl: string;
let house: HouseClient;
let event: EventView;
beforeAll(async () => {
  ({ server, mail, stop } = await startWithMail({ publicUrl: OURS }));
  site = createServer((request, response) => answer(request, response)).listen(0, '127.0.0.1');
  await once(site, 'listening');
  siteUrl = `http://127.0.0.1:${(site.address() as AddressInfo).port}`;
});
afterAll(async () => {
  site.closeAllConnections();
  site.close();
  await stop();
});
beforeEach(async () => {
  house = await server.house();
  event = await house.event(600, 660);
});

const html =
  (body: string, headers: Record<string, string> = {}): RequestListener =>
  (_request, response) =>
    void response.writeHead(200, { 'content-type': 'text/html', ...headers }).end(body);
const frame = (slug = event.slug): string => `<h1>Ours</h1><iframe src="${OURS}/embed/${slug}"></iframe>`;
const of = (): string => `/api/websites/event/${event.id}`;
const check = (address = `${siteUrl}/live`, by = house): Promise<Answer<WebsitesView & Problem>> =>
  by.post(`${of()}/check`, { address });
const found = async (address?: string) => (await check(address)).body.websites[0]?.finding;

describe('a page of a website', () => {
  test('shows the event, also by the address of its series, and is kept in view', async () => {
    answer = html(frame());
    expect(await found()).toEqual({ kind: 'shows', by: 'frame' });
    answer = html(`<script async src="${OURS}/embed.js" data-event="${event.slug}"></script>`);
    expect(await found()).toEqual({ kind: 'shows', by: 'script' });
    const { websites } = (await house.get<WebsitesView>(of())).body;
    expect(websites).toMatchObject([
      { host: new URL(siteUrl).host, address: `${siteUrl}/live`, mostViewers: 0 },
    ]);
  });

  test('is read however it is packed, and a redirect is followed', async () => {
    answer = (request, response) => {
      if (request.url === '/live') response.writeHead(302, { location: '/there' }).end();
      else
        response
          .writeHead(200, { 'content-type': 'text/html; charset=iso-8859-1', 'content-encoding': 'gzip' })
          .end(gzipSync(frame()));
    };
    expect(await found()).toEqual({ kind: 'shows', by: 'frame' });
  });

  test('does not show it: another event, nothing, forbidden by the page or by us', async () => {
    const other = await house.event(700, 760);
    answer = html(frame(other.slug));
    expect(await found()).toEqual({ kind: 'other', slug: other.slug });
    answer = html('<script src="/own.js"></script>');
    expect(await found()).toEqual({ kind: 'not-there', hasScripts: true });
    answer = html(frame(), { 'content-security-policy': "default-src 'self'" });
    expect(await found()).toMatchObject({ kind: 'page-forbids', directive: 'default-src' });
    answer = html(frame());
    const path = `/api/watching/event/${event.id}`;
    const { version } = (await house.get<{ version: number }>(path)).body;
    await house.put(path, version, { own: { sites: { kind: 'only', hosts: ['quay.example'] } } });
    expect(await found()).toEqual({ kind: 'we-forbid' });
  });

  test.each<[string, RequestListener]>([
    ['status-404', (_request, response) => void response.writeHead(404).end()],
    [
      'no-page',
      (_request, response) => void response.writeHead(200, { 'content-type': 'image/png' }).end('png'),
    ],
    [
      'too-large',
      (_request, response) => {
        response.writeHead(200, { 'content-type': 'text/html', 'content-encoding': 'gzip' });
        response.end(gzipSync(Buffer.alloc(20_000_000, 'x')));
      },
    ],
    [
      'too-many-redirects',
      (request, response) => void response.writeHead(302, { location: `${request.url}a` }).end(),
    ],
    [
      'no-page',
      (_request, response) => void response.writeHead(302, { location: 'file:///etc/passwd' }).end(),
    ],
    ['unreachable', (_request, response) => void response.destroy()],
    [
      'too-slow',
      (_request, response) => {
        // It never ends.
        response.writeHead(200, { 'content-type': 'text/html' });
        const timer = setInterval(() => response.write('<p>more</p>'), 50);
        response.once('close', () => clearInterval(timer));
      },
    ],
  ])('that cannot be read says why: %s', async (why, listener) => {
    answer = listener;
    expect(await found()).toEqual({ kind: 'unread', why });
  });

  test('of a name that nobody has, or no address at all, is said to be so', async () => {
    expect(await found('http://nobody.invalid/')).toMatchObject({ kind: 'unread' });
    expect((await check('ftp://quay.example/')).status).toBe(422);
    expect((await check('not an address')).status).toBe(422);
  });

  test('is looked at by those who plan, for their own house', async () => {
    answer = html(frame());
    const moderator = await server.member(house.houseId, 'moderator');
    expect((await check(undefined, moderator)).status).toBe(403);
    const stranger = await server.house();
    expect((await check(undefined, stranger)).status).toBe(404);
    expect((await stranger.get(of())).status).toBe(404);
    const [website] = (await check()).body.websites;
    const forgotten = await house.delete<WebsitesView>(`${of()}/${website!.id}`);
    expect(forgotten.body.websites).toEqual([]);
  });
});

test('an inner address is never asked, nor a name that means one', async () => {
  const strict = await ServerDriver.start({ innerWebsites: false });
  const owner = await strict.house();
  const planned = await owner.event(600, 660);
  let isAsked = false;
  answer = () => void (isAsked = true);
  for (const address of [
    siteUrl,
    siteUrl.replace('127.0.0.1', 'localhost'),
    'http://[::1]/',
    'http://0x7f.1/',
  ]) {
    const { body } = await owner.post<WebsitesView>(`/api/websites/event/${planned.id}/check`, { address });
    expect(body.websites.map(({ finding }) => finding)).toContainEqual({
      kind: 'unread',
      why: 'inner-address',
    });
  }
  expect(isAsked).toBe(false);
  await strict.stop();
});

test('an embed tells by itself where it stands, by its host alone', async () => {
  await fetch(`${server.url}/embed/${event.slug}`, {
    headers: { referer: 'https://quay.example/sundays?id=7' },
  });
  const websites = await until(async () => {
    const { body } = await house.get<WebsitesView>(of());
    return body.websites.length > 0 && body.websites;
  }, 'the website');
  expect(websites).toMatchObject([{ host: 'quay.example', address: null, seenAtMs: expect.any(Number) }]);
});

test('what once showed is looked at by night, and a letter says when it has gone, once', async () => {
  const watch = server.app.get(WebsiteWatch);
  answer = html(frame());
  await check();
  const gone = () =>
    mail.letters.filter(({ to, subject }) => to === house.email && subject.includes('no longer shows'));
  // Three in the night after the next, in the house's zone.
  const night = new Date(Date.now() + 2 * 86_400_000).setUTCHours(3, 0, 0, 0) - Date.now();
  await server.setClock(night);
  await watch.work();
  expect(gone()).toHaveLength(0);
  answer = html('<h1>Ours</h1>');
  await server.setClock(night + 86_400_000);
  await watch.work();
  // It may be away for a moment.
  expect((await house.get<WebsitesView>(of())).body.websites[0]!.finding).toMatchObject({ kind: 'shows' });
  for (const minutes of [25, 50, 75]) {
    await server.setClock(night + 86_400_000 + minutes * 60_000);
    await watch.work();
  }
  const [letter] = await until(() => gone().length > 0 && gone(), 'the letter');
  expect(letter!.text).toContain(`${siteUrl}/live`);
  expect(letter!.text).toContain(`/websites/event/${event.id}`);
  expect(gone()).toHaveLength(1);
  expect((await house.get<WebsitesView>(of())).body.websites[0]!.finding).toMatchObject({
    kind: 'not-there',
  });
  await server.setClock(0);
});
