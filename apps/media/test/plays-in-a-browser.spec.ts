import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { type Browser, chromium } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { NodeDriver, until } from './driver.js';
import { CHROMIUM } from '../../../tests/chromium.js';

let driver: NodeDriver;
let browser: Browser;

beforeAll(async () => {
  driver = await NodeDriver.start();
  browser = await chromium.launch(CHROMIUM);
});
afterAll(async () => {
  await browser.close();
  await driver.close();
});

test('a browser plays an encoder live, part by part, and the replay after the end', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  const encoder = driver.encode({ bFrames: 2 });
  await until(
    async () => (await (await fetch(driver.address('live.m3u8'))).text()).includes('#EXT-X-PART:'),
    'parts',
  );

  const page = await browser.newPage();
  const parts = new Set<string>();
  page.on('request', (request) => void (request.url().includes('/part-') && parts.add(request.url())));
  const library = createRequire(import.meta.url).resolve('hls.js/dist/hls.light.min.js');
  await page.setContent('<video muted autoplay playsinline></video>');
  await page.addScriptTag({ content: await readFile(library, 'utf8') });
  await page.evaluate((address) => {
    const { Hls } = window as never as {
      Hls: new (options: object) => {
        loadSource(u: string): void;
        attachMedia(v: unknown): void;
      };
    };
    const hls = new Hls({ lowLatencyMode: true, maxLiveSyncPlaybackRate: 1.5 });
    hls.loadSource(address);
    hls.attachMedia(document.querySelector('video'));
  }, driver.address('live.m3u8'));
  const played = (): Promise<number> => page.evaluate(() => document.querySelector('video')!.currentTime);
  const first = await until(played, 'the first picture');
  await until(async () => (await played()) > first + 4, 'four seconds of picture');
  // Segments alone would leave it seconds behind; how near it is `bench latency` measures.
  await until(() => parts.size > 4, 'parts being played');
  expect(await page.evaluate(() => document.querySelector('video')!.videoWidth)).toBe(320);

  await driver.desire({
    programmes: [
      { ...driver.state.programmes[0]!, command: { commandId: 'end', kind: 'end', atMs: Date.now() } },
    ],
  });
  const replay = await (await fetch(driver.address('replay.m3u8'))).text();
  expect(replay).toContain('#EXT-X-PLAYLIST-TYPE:VOD');
  expect(replay.trim().endsWith('#EXT-X-ENDLIST')).toBe(true);
  await encoder.stop();
});
