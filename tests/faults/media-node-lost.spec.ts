import { randomUUID } from 'node:crypto';
import { createServer, type Server } from 'node:net';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from '@playwright/test';
import { access, api, openBrowserWithCamera, openConsole, openSender, until } from './installation.js';

const HILL = 'hill-house';

interface Point {
  readonly nodeId: string;
  readonly presence: string;
  readonly reachUrl: string;
}
interface Key {
  readonly address: string;
  readonly second: { readonly address: string };
}
interface Recording {
  readonly eventId: string;
  readonly durationMs: number;
  readonly awaitedFrom: readonly string[];
}

let browser: Browser;
let viewer: Page;
let sender: Page;
let event: { id: string; slug: string };
let balconyId: string;
/** Of the node that has the event since the first was lost. */
let portSince: string;
/** Stands where the lost node stood, and answers nobody. */
let silence: Server;

const points = async (): Promise<Point[]> => (await api<{ items: Point[] }>('/points')).items;
const hill = async (): Promise<Point> => (await points()).find(({ nodeId }) => nodeId === HILL)!;
const encoder = (action: string, body: object = {}): Promise<Response> =>
  fetch(`${access.standins}/encoders/hill-camera/${action}`, { method: 'POST', body: JSON.stringify(body) });
const framesSeen = (): Promise<number> =>
  viewer
    .locator('video')
    .evaluate((video) => (video as HTMLVideoElement).getVideoPlaybackQuality().totalVideoFrames);
const playback = async (): Promise<string> => {
  const answer = await fetch(`${access.console}/api/public/events/${event.slug}`);
  return ((await answer.json()) as { playback: { hls: string } }).playback.hls;
};
const addSource = (name: string): Promise<{ id: string }> =>
  api('/sources', { body: { name, nodeId: HILL } });

/** Waits until the picture has moved in the open page, by frames that were shown. */
async function seesOn(): Promise<void> {
  const before = await framesSeen();
  await until(async () => (await framesSeen()) > before + 30, 'the picture in the open page');
}

beforeAll(async () => {
  browser = await openBrowserWithCamera();
  const { id: sourceId } = await addSource('Hill camera');
  const key = await api<Key>(`/sources/${sourceId}/key`);
  expect(key.address).not.toBe(key.second.address);
  await encoder('start', key);
  const day = new Date(Date.now() + 2 * 86_400_000).toISOString().slice(0, 10);
  const wish = {
    title: 'Night watch',
    startsAtLocal: `${day}T20:00`,
    stopsAtLocal: `${day}T21:00`,
    sourceId,
  };
  event = await api<typeof event>('/events', { body: wish });
  const move = { commandId: randomUUID(), fromState: 'planned' };
  await api(`/events/${event.id}/go-on-air`, { body: move });
  viewer = await browser.newPage();
  await viewer.goto(`${access.console}/watch/${event.slug}`);
  await until(async () => (await framesSeen()) > 30, 'the picture');
  // Somebody whose own device sends to the same point.
  balconyId = (await addSource('Hill balcony')).id;
  sender = await openSender(balconyId, browser, await playback());
});
afterAll(async () => {
  await encoder('stop');
  silence.close();
  await browser.close();
});

/** The machine is gone: its process, and whatever would answer in its place. */
async function loseNode(): Promise<void> {
  const { reachUrl } = await hill();
  process.kill(access.processes.secondMedia, 'SIGKILL');
  silence = createServer((socket) => socket.destroy());
  await until(
    () =>
      new Promise<true>((resolve, reject) => {
        silence.once('error', reject);
        silence.listen(Number(new URL(reachUrl).port), '127.0.0.1', () => resolve(true));
      }),
    'its port',
  );
}

test('a media node is gone: its event goes on at the other, in the page that was open', async () => {
  await viewer.evaluate(() => Object.assign(window, { marker: 'the same page' }));
  const before = await playback();
  await loseNode();
  const after = await until(async () => {
    const now = await playback();
    return new URL(now).port !== new URL(before).port && now;
  }, 'another address');
  expect(new URL(after).pathname).toBe(new URL(before).pathname);
  portSince = new URL(after).port;
  await seesOn();
  expect(await viewer.evaluate(() => (window as never as { marker: string }).marker)).toBe('the same page');
  const { items } = await api<{ items: { kind: string }[] }>(`/happenings?subjectId=${event.id}`);
  expect(items.map(({ kind }) => kind)).toContain('event-went-over');
});

test('a browser that was sending there sends to the other by itself', async () => {
  const history = async () =>
    (await api<{ items: { kind: string; point: string }[] }>(`/sources/${balconyId}/history`)).items;
  await until(
    async () => (await history()).some(({ kind, point }) => kind === 'source-came' && point === 'Quay House'),
    'the browser at Quay House',
  );
  await sender.getByText('We are receiving your picture.').waitFor();
});

test('anyone who looks at the sources reads which point has gone, and where to send meanwhile', async () => {
  const console_ = await openConsole(browser);
  await console_.goto(`${access.console}/sources`);
  await console_.getByText('Hill House is not responding.').waitFor();
  const row = console_.getByRole('listitem').filter({ hasText: 'Hill camera' }).first();
  await row.getByRole('button', { name: 'Address and key' }).click();
  await row.getByText('Until it is back, send to Quay House').waitFor();
});

test('back again, it gives what it had, and the recording is whole', async () => {
  silence.close();
  await until(async () => (await hill()).presence === 'here', 'the node to be back');
  await seesOn();
  // Nothing moves a second time.
  expect(new URL(await playback()).port).toBe(portSince);
  const move = { commandId: randomUUID(), fromState: 'air' };
  await api(`/events/${event.id}/end`, { body: move });
  const whole = await until(async () => {
    const { items } = await api<{ items: Recording[] }>('/recordings?limit=200');
    const found = items.find(({ eventId }) => eventId === event.id);
    return found?.awaitedFrom.length === 0 ? found : false;
  }, 'the recording to be whole');
  const text = await (await fetch(await playback())).text();
  const numbers = [...text.matchAll(/seg-(\d+)\.m4s/g)].map((match) => Number(match[1]));
  expect(numbers[0]).toBeLessThan(1_000_000);
  expect(numbers.at(-1)).toBeGreaterThanOrEqual(1_000_000);
  const seconds = [...text.matchAll(/#EXTINF:([\d.]+)/g)].reduce((sum, match) => sum + Number(match[1]), 0);
  expect(seconds).toBeCloseTo(whole.durationMs / 1000, 0);
});
