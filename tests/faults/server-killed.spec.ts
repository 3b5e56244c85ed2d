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
  seesMore,
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

/** Notes in the page whether words were ever to be seen: they may have gone again before anybody asks. */
const noteWhether = (words: string): Promise<void> =>
  page.evaluate((wanted) => {
    const look = (): void => {
      if (document.body.innerText.includes(wanted)) document.body.dataset.seen = wanted;
    };
    new MutationObserver(look).observe(document.body, {
      subtree: true,
      childList: true,
      characterData: true,
    });
  }, words);

test('kill -9 of the server on air: viewers and places notice nothing, the chat keeps what is typed', async () => {
  const RECONNECTING = 'The chat is reconnecting.';
  await page.getByRole('button', { name: /^Chat/ }).click();
  await page.getByLabel('Your name').fill('Tamsin W');
  await page.getByLabel(/I keep to the house rules/).check();
  await page.getByRole('button', { name: 'Join the chat' }).click();
  await page.getByLabel(/Say something/).fill('Still with you');
  await noteWhether(RECONNECTING);

  // Stopped first, so that it is away for certain while the picture is watched.
  process.kill(access.processes.server, 'SIGSTOP');
  const before = await relayBytes();
  await seesMore(page, 10);
  await until(async () => (await relayBytes()) > before + 1_000_000, 'the place to get more');
  process.kill(access.processes.server, 'SIGKILL');

  await until(
    () => page.evaluate((words) => document.body.dataset.seen === words, RECONNECTING),
    'the chat to say that it reconnects',
  );
  await until(healthy, 'the server');
  expect(await page.getByLabel(/Say something/).inputValue()).toBe('Still with you');
  await until(() => page.getByText(RECONNECTING).isHidden(), 'the chat to be back');
  await page.getByRole('button', { name: 'Send' }).click();
  await until(
    () => page.getByRole('list', { name: 'Messages' }).getByText('Still with you').isVisible(),
    'the message',
  );
  await seesMore(page, 5);
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
