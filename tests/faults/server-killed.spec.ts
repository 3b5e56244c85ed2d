import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from '@playwright/test';
import {
  access,
  healthy,
  onAir,
  openBrowser,
  openConsole,
  openViewer,
  positionIn,
  until,
} from './installation.js';

let browser: Browser;
let page: Page;
let uploading: Page;
const UPLOADED = 'organ of the chapel.mp4';

beforeAll(async () => {
  browser = await openBrowser();
  page = await openViewer(browser);
  uploading = await openUpload();
});
afterAll(() => browser.close());

/** Somebody who uploads over a slow line, and has sent a part of it. */
async function openUpload(): Promise<Page> {
  const opened = await openConsole(browser);
  await opened.goto(`${access.console}/archive/files`);
  const network = await opened.context().newCDPSession(opened);
  await network.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: 3_000_000,
  });
  const buffer = Buffer.alloc(30_000_000, 'Not a film, but sent like one. ');
  await opened.getByLabel('Files to upload').setInputFiles({ name: UPLOADED, mimeType: 'video/mp4', buffer });
  const sent = opened.getByRole('progressbar', { name: `Sending ${UPLOADED}` });
  await until(async () => Number(await sent.getAttribute('aria-valuenow')) > 5, 'a part of the upload');
  return opened;
}

async function relayBytes(): Promise<number> {
  const streams = (await (await fetch(`${access.standins}/platform/streams`)).json()) as {
    streamName: string;
    receivedBytes: number;
  }[];
  return streams.find((stream) => stream.streamName === 'lantern-quay-1')!.receivedBytes;
}

test('kill -9 of the server on air: viewers and places notice nothing, the chat keeps what is typed', async () => {
  await page.getByRole('button', { name: /^Chat/ }).click();
  await page.getByLabel('Your name').fill('Tamsin W');
  await page.getByLabel(/I keep to the house rules/).check();
  await page.getByRole('button', { name: 'Join the chat' }).click();
  await page.getByLabel(/Say something/).fill('Still with you');
  await page.locator('video').evaluate((video) => {
    Object.assign(window, { stalls: 0 });
    video.addEventListener('waiting', () => ((window as never as { stalls: number }).stalls += 1));
  });

  const startedAt = await positionIn(page);
  let stillSinceMs = Date.now();
  let lastBytes = await relayBytes();
  let longestStillMs = 0;
  process.kill(access.processes.server, 'SIGKILL');
  const killedAtMs = Date.now();
  let toldReconnecting = false;
  let backAtMs: number | null = null;
  while (Date.now() - killedAtMs < 20_000) {
    const bytes = await relayBytes();
    if (bytes > lastBytes) {
      longestStillMs = Math.max(longestStillMs, Date.now() - stillSinceMs);
      stillSinceMs = Date.now();
      lastBytes = bytes;
    }
    toldReconnecting ||= await page.getByText('The chat is reconnecting.').isVisible();
    if (backAtMs === null && (await healthy().catch(() => false))) backAtMs = Date.now();
    await new Promise((resolve) => setTimeout(resolve, 150));
  }

  expect(backAtMs).not.toBeNull();
  expect(toldReconnecting).toBe(true);
  expect(longestStillMs).toBeLessThan(2000);
  expect(await page.evaluate(() => (window as never as { stalls: number }).stalls)).toBe(0);
  expect((await positionIn(page)) - startedAt).toBeGreaterThan(19);
  expect(await page.getByLabel(/Say something/).inputValue()).toBe('Still with you');
  await until(() => page.getByText('The chat is reconnecting.').isHidden(), 'the chat to be back');
  await page.getByRole('button', { name: 'Send' }).click();
  await until(
    () => page.getByRole('list', { name: 'Messages' }).getByText('Still with you').isVisible(),
    'the message',
  );
});

test('after its return the server knows what the node knows', async () => {
  await until(healthy, 'the server');
  const event = (await (await fetch(`${access.console}/api/public/events/${onAir.slug}`)).json()) as {
    state: string;
    signal: { present: boolean } | null;
  };
  expect(event).toMatchObject({ state: 'air', signal: { present: true } });
});

test('an upload that was under way goes on by itself where it was, and arrives once', async () => {
  const arrived = uploading.getByRole('listitem', { name: UPLOADED });
  await until(
    async () => (await arrived.innerText()).includes('no picture, film or sound'),
    'the file',
    60_000,
  );
  expect(await arrived.count()).toBe(1);
  expect(await arrived.innerText()).toContain('30 MB');
});
