import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from '@playwright/test';
import { access, healthy, onAir, openBrowser, openViewer, positionIn, until } from './installation.js';

let browser: Browser;
let page: Page;

beforeAll(async () => {
  browser = await openBrowser();
  page = await openViewer(browser);
});
afterAll(() => browser.close());

interface PublicState {
  readonly state: string;
  readonly playback: { readonly hls: string };
}
const publicState = async (): Promise<PublicState> =>
  (await (await fetch(`${access.console}/api/public/events/${onAir.slug}`)).json()) as PublicState;

const sequencesNow = async (): Promise<number[]> => {
  const text = await (await fetch((await publicState()).playback.hls)).text();
  return [...text.matchAll(/seg-(\d+)\.m4s/g)].map((match) => Number(match[1]));
};

test('kill -9 of the media node on air: the same programme goes on in the open page, and nothing kept is lost', async () => {
  await page.evaluate(() => Object.assign(window, { marker: 'the same page' }));
  const before = await sequencesNow();
  process.kill(access.processes.media, 'SIGKILL');
  // Its keeper may have it back before the server has noticed: only new segments prove that it goes on.
  const after = await until(
    async () => {
      const now = await sequencesNow();
      return now.at(-1)! > before.at(-1)! + 1 && now;
    },
    'new segments',
    40_000,
  );
  expect(await healthy()).toBe(true);
  expect((await publicState()).state).toBe('air');
  expect(after.slice(0, -1).every((sequence, index) => after[index + 1] === sequence + 1)).toBe(true);

  // What was whole when it was killed is kept: the segment that stood open was closed with its whole parts.
  const live = (await publicState()).playback.hls;
  const open = before.at(-1)! + 1;
  const kept = await fetch(live.replace('live.m3u8', `seg-${open}.m4s`));
  expect(kept.status).toBe(200);
  const bytes = Buffer.from(await kept.arrayBuffer());
  expect(bytes.subarray(4, 8).toString()).toBe('moof');

  const stoodAt = await positionIn(page);
  await until(async () => (await positionIn(page)) > stoodAt + 3, 'the picture in the open page', 40_000);
  expect(await page.evaluate(() => (window as never as { marker: string }).marker)).toBe('the same page');
});

test('its places get the programme again', async () => {
  await until(
    async () => {
      const streams = (await (await fetch(`${access.standins}/platform/streams`)).json()) as {
        streamName: string;
        isLive: boolean;
      }[];
      return streams.find((stream) => stream.streamName === 'lantern-quay-1')!.isLive;
    },
    'the place',
    40_000,
  );
});
