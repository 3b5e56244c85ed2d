import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
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
let folder: string;
const UPLOADED = 'organ of the chapel.mp4';

beforeAll(async () => {
  browser = await openBrowser();
  page = await openViewer(browser);
  folder = await mkdtemp(join(tmpdir(), 'heliphon-upload-'));
  uploading = await openUpload();
});
afterAll(async () => {
  await browser.close();
  await rm(folder, { recursive: true });
});

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
  const path = join(folder, UPLOADED);
  await writeFile(path, Buffer.alloc(30_000_000, 'Not a film, but sent like one. '));
  await opened.getByLabel('Files to upload').setInputFiles(path);
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

/** How long a figure that should rise stood at most. */
class Flow {
  #sinceMs = Date.now();
  longestStillMs = 0;

  constructor(private value: number) {}

  see(value: number): void {
    this.longestStillMs = Math.max(this.longestStillMs, Date.now() - this.#sinceMs);
    if (value <= this.value) return;
    this.value = value;
    this.#sinceMs = Date.now();
  }
}

test('kill -9 of the server on air: viewers and places notice nothing, the chat keeps what is typed', async () => {
  await page.getByRole('button', { name: /^Chat/ }).click();
  await page.getByLabel('Your name').fill('Tamsin W');
  await page.getByLabel(/I keep to the house rules/).check();
  await page.getByRole('button', { name: 'Join the chat' }).click();
  await page.getByLabel(/Say something/).fill('Still with you');

  process.kill(access.processes.server, 'SIGKILL');
  const killedAtMs = Date.now();
  const [picture, place] = [new Flow(await positionIn(page)), new Flow(await relayBytes())];
  let toldReconnecting = false;
  let backAtMs: number | null = null;
  while (Date.now() - killedAtMs < 20_000) {
    picture.see(await positionIn(page));
    place.see(await relayBytes());
    toldReconnecting ||= await page.getByText('The chat is reconnecting.').isVisible();
    if (backAtMs === null && (await healthy().catch(() => false))) backAtMs = Date.now();
    await new Promise((resolve) => setTimeout(resolve, 150));
  }

  expect(backAtMs).not.toBeNull();
  expect(toldReconnecting).toBe(true);
  // If the picture depended on the server, it would stand still for as long as the server was away.
  const awayMs = backAtMs! - killedAtMs;
  expect(picture.longestStillMs).toBeLessThan(awayMs / 2);
  expect(place.longestStillMs).toBeLessThan(awayMs / 2);
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
  await until(async () => (await arrived.innerText()).includes('as a picture, video or sound'), 'the file');
  expect(await arrived.count()).toBe(1);
  expect(await arrived.innerText()).toContain('30 MB');
});
