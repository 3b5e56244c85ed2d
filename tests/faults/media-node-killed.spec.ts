import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import {
  access,
  api,
  healthy,
  onAir,
  openBrowserWithCamera,
  openConsole,
  openSender,
  openViewer,
  seesMore,
  until,
} from './installation.js';

let browser: Browser;
let page: Page;
let desk: Page;
let sender: Page;
let cameraId: string;
let timesCameBefore: number;

beforeAll(async () => {
  browser = await openBrowserWithCamera();
  await passTwentyMinutes();
  page = await openViewer(browser);
  cameraId = (await api<{ id: string }>('/sources', { body: { name: 'Balcony' } })).id;
  sender = await openSender(cameraId, browser, (await publicState()).playback.hls);
  // Last, so that most of the film is left when the node is killed.
  desk = await openDeskWithFilm();
});
afterAll(() => browser.close());

/** The event has been on air for longer than its dead-air minutes when the node is killed. */
async function passTwentyMinutes(): Promise<void> {
  for (const minutes of [5, 10, 15, 20]) {
    await api('/test/clock', { body: { offsetMs: minutes * 60_000 } });
    const last = (await sequencesNow()).at(-1)!;
    await until(async () => (await sequencesNow()).at(-1)! > last, 'the picture on the moved clock');
  }
}

/** The desk of another event, on air with the film that it begins with. */
async function openDeskWithFilm(): Promise<Page> {
  const [film] = (await api<{ items: { id: string; name: string }[] }>('/files?kind=film')).items;
  const { items } = await api<{ items: { slug: string; sourceId: string }[] }>('/events?limit=200');
  const { sourceId } = items.find(({ slug }) => slug === onAir.slug)!;
  const day = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
  const wish = { title: 'Vigil', startsAtLocal: `${day}T20:00`, stopsAtLocal: `${day}T21:00`, sourceId };
  const { id, version } = await api<{ id: string; version: number }>('/events', { body: wish });
  await api(`/events/${id}`, { method: 'PATCH', version, body: { filmId: film!.id } });
  await until(async () => {
    const { checks } = await api<{ checks: { code: string; status: string }[] }>(`/events/${id}/readiness`);
    return checks.some(({ code, status }) => code === 'film' && status === 'passed');
  }, 'the film to be at the node');
  await api(`/events/${id}/go-on-air`, { body: { commandId: randomUUID(), fromState: 'planned' } });
  const opened = await openConsole(browser);
  await opened.goto(`${access.console}/events/${id}/air`);
  await opened.getByText('Viewers see the opening film.').waitFor();
  return opened;
}

/** How often the camera has come so far. */
async function timesCome(): Promise<number> {
  const { items } = await api<{ items: { kind: string }[] }>(`/sources/${cameraId}/history`);
  return items.filter(({ kind }) => kind === 'source-came').length;
}

/** Of the film, as the desk says it; `null` while it says nothing of it. */
async function filmLeftSeconds(): Promise<number | null> {
  const spoken = await desk.getByRole('status').allInnerTexts();
  const [, left] = /opening film\. .* follows in (\d+) s/.exec(spoken.join(' ')) ?? [];
  return left === undefined ? null : Number(left);
}

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
  // The desk counts seconds in the last minute.
  const filmLeft = await until(async () => (await filmLeftSeconds()) ?? false, 'the film at the desk');
  timesCameBefore = await timesCome();
  process.kill(access.processes.media, 'SIGKILL');
  // Its keeper may have it back before the server has noticed: only new segments prove that it goes on.
  const after = await until(async () => {
    const now = await sequencesNow();
    return now.at(-1)! > before.at(-1)! + 1 && now;
  }, 'new segments');
  await until(healthy, 'the node to be healthy');
  // The film of another event goes on where it would be: it is neither begun again nor left out.
  await until(async () => {
    const left = await filmLeftSeconds();
    return left !== null && left < filmLeft - 2;
  }, 'the film to go on');
  expect((await publicState()).state).toBe('air');
  expect(after.slice(0, -1).every((sequence, index) => after[index + 1] === sequence + 1)).toBe(true);

  // What was whole when it was killed is kept: the segment that stood open was closed with its whole parts.
  const live = (await publicState()).playback.hls;
  const open = before.at(-1)! + 1;
  const kept = await fetch(live.replace('live.m3u8', `seg-${open}.m4s`));
  expect(kept.status).toBe(200);
  const bytes = Buffer.from(await kept.arrayBuffer());
  expect(bytes.subarray(4, 8).toString()).toBe('moof');

  await seesMore(page, 3);
  expect(await page.evaluate(() => (window as never as { marker: string }).marker)).toBe('the same page');
});

test('its places get the programme again', async () => {
  await until(async () => {
    const streams = (await (await fetch(`${access.standins}/platform/streams`)).json()) as {
      streamName: string;
      isLive: boolean;
    }[];
    return streams.find((stream) => stream.streamName === 'lantern-quay-1')!.isLive;
  }, 'the place');
});

test('a camera that was sending begins again by itself', async () => {
  await until(async () => (await timesCome()) > timesCameBefore, 'the camera to have come again');
  await sender.getByText('We are receiving your picture.').waitFor();
});
