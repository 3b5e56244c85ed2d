import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { chromium } from '@playwright/test';
import { startPageServer } from './support/page-server.js';
import { CHROMIUM } from '../tests/chromium.js';

// JavaScript of the watch page, gzipped: what has come when the poster stands, and what has come with the player.
// Yardstick: hls.js' whole build alone, which many pages load before anything stands.

const BUDGETS_KB = { poster: 90, player: 230 } as const;
const POSTER =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 16 9"><rect width="16" height="9"/></svg>';
const server = await startPageServer({ type: 'image/svg+xml', bytes: Buffer.from(POSTER) });
const { origin } = server;
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

const poster = await measure(`document.querySelector('img[src="/poster"]')?.complete`, '/poster');
server.change({
  state: 'air',
  airAtMs: Date.now(),
  playback: {
    kind: 'live',
    hls: `${origin}/live.m3u8`,
    main: `${origin}/main.m3u8`,
    hasSizes: false,
    expiresAtMs: Date.now() + 1e7,
  },
});
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
