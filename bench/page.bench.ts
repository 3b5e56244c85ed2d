import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { readFile, stat } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { chromium } from '@playwright/test';
import { CHROMIUM } from '../tests/chromium.js';

// JavaScript of the watch page, gzipped: what has come when the poster stands, and what has come with the player.
// Yardstick: hls.js' whole build alone, which many pages load before anything stands.

const BUDGETS_KB = { poster: 90, player: 230 } as const;
const TYPES: Readonly<Record<string, string>> = {
  '.html': 'text/html',
  '.js': 'text/javascript',
  '.css': 'text/css',
};

/** Whatever a page may have to show, it has to. */
const order: PublicOrder = {
  items: [{ id: 'a', atMinutes: 0, title: 'Hymn', words: 'Words to follow' }],
  marks: [],
};
const event: PublicEvent = {
  slug: 'x',
  seq: 1,
  serverNowMs: Date.now(),
  title: 'Evensong',
  description: '',
  posterUrl: '/poster.svg',
  state: 'doors',
  isRehearsal: false,
  notice: null,
  startsAtMs: Date.now() + 60_000,
  endsAtMs: Date.now() + 3_600_000,
  doorsAtMs: Date.now() - 1000,
  airAtMs: null,
  beginsAtMs: Date.now() + 60_000,
  zone: 'Europe/London',
  rewindMs: 0,
  house: {
    name: 'House',
    zone: 'Europe/London',
    logoSvg: null,
    accent: '#24405c',
    accentWarm: '#e7b56a',
    rules: '',
  },
  channel: { name: 'Chapel', slug: 'chapel' },
  playback: null,
  signal: null,
  orderSeq: 'o-1',
  chat: { state: 'open', eventId: 'x' },
};

let onAir: Partial<PublicEvent> = {};
const server = createServer((request, response) => {
  void (async () => {
    const path = new URL(request.url!, 'http://x').pathname;
    if (path.endsWith('/chat'))
      return response.setHeader('content-type', 'application/json').end('{"messages":[],"seq":0}');
    if (path.endsWith('/order'))
      return response.setHeader('content-type', 'application/json').end(JSON.stringify(order));
    if (path.startsWith('/api/'))
      return response
        .setHeader('content-type', 'application/json')
        .end(JSON.stringify({ ...event, ...onAir }));
    if (path === '/poster.svg')
      return response
        .setHeader('content-type', 'image/svg+xml')
        .end(
          '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 16 9"><rect width="16" height="9"/></svg>',
        );
    const file = join('dist/web', path.startsWith('/watch/') ? 'watch.html' : path);
    if (!(await stat(file).catch(() => null))?.isFile()) return response.writeHead(404).end();
    const body = await readFile(file);
    return response.setHeader('content-type', TYPES[extname(file)] ?? 'application/octet-stream').end(body);
  })();
});
await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
const origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
const browser = await chromium.launch(CHROMIUM);

/** The scripts that the page had begun to load when `until` came true: no clock decides, the page's own order does. */
async function measure(until: string, last: string): Promise<number> {
  const page = await browser.newPage();
  await page.goto(`${origin}/watch/x`);
  await page.waitForFunction(until);
  const scripts = await page.evaluate((name) => {
    const loaded = performance.getEntriesByType('resource') as PerformanceResourceTiming[];
    const stands = loaded.find((entry) => entry.name.includes(name))!.responseEnd;
    return loaded
      .filter((entry) => entry.startTime <= stands && entry.name.endsWith('.js'))
      .map((entry) => new URL(entry.name).pathname);
  }, last);
  await page.close();
  const sizes = await Promise.all(
    [...new Set(scripts)].map(async (path) => gzipSync(await readFile(join('dist/web', path))).byteLength),
  );
  return sizes.reduce((sum, size) => sum + size, 0) / 1000;
}

const poster = await measure(`document.querySelector('img[src="/poster.svg"]')?.complete`, 'poster.svg');
onAir = {
  state: 'air',
  airAtMs: Date.now(),
  playback: {
    kind: 'live',
    hls: `${origin}/live.m3u8`,
    main: `${origin}/main.m3u8`,
    expiresAtMs: Date.now() + 1e7,
  },
};
const player = await measure(
  `document.querySelector('video') && performance.getEntriesByType('resource').some((r) => r.name.includes('hls'))`,
  'hls',
);
const yardstick = gzipSync(await readFile('node_modules/hls.js/dist/hls.min.js')).byteLength / 1000;
await browser.close();
server.close();
const passes = poster <= BUDGETS_KB.poster && player <= BUDGETS_KB.player;
console.log(
  `page poster_kb=${poster.toFixed(1)} player_kb=${player.toFixed(1)} ratio=${(poster / yardstick).toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
