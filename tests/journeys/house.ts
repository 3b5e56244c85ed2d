import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { type Cookie, expect, type Locator, type Page } from '@playwright/test';
import { readStrip, stripCentres } from '@heliphon/core/signal/code-strip';

/** How to get into the installation under test, as `./heliphon demo` writes it down. */
export interface Access {
  readonly console: string;
  readonly api: string;
  readonly token: string;
  readonly standins: string;
  readonly website: string;
  readonly platforms: { readonly skerry: string; readonly windlass: string };
  readonly people: readonly { role: string; email: string; password: string }[];
  readonly events: readonly { slug: string; state: string; watch: string; embed: string }[];
  readonly rtmp: { address: string; key: string; user: string; password: string };
  readonly processes: { readonly media: number };
}

export const access = JSON.parse(readFileSync(process.env.HELIPHON_TEST_ACCESS!, 'utf8')) as Access;
/** Of the demo film. */
export const FRAMES_A_SECOND = 30;
export const onAir = access.events.find((event) => event.state === 'air')!;

/** Who has signed in already: what a browser would still have of them. */
const signedIn = new Map<string, Cookie[]>();

/** Signs somebody in, or lets them in who still are. */
export async function signIn(page: Page, role = 'producer'): Promise<void> {
  await page.context().addCookies(signedIn.get(role) ?? []);
  await page.goto(access.console);
  const email = page.getByLabel('Email');
  await expect(roomsOf(page).or(email)).toBeVisible();
  if (!(await email.isVisible())) return;
  const person = access.people.find((candidate) => candidate.role === role)!;
  await email.fill(person.email);
  await page.getByLabel('Password').fill(person.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(roomsOf(page)).toBeVisible();
  signedIn.set(role, await page.context().cookies());
}

/** The way to the rooms: a row of them, on a phone one button. */
export const roomsOf = (page: Page): Locator =>
  page.getByRole('navigation', { name: 'Rooms' }).or(page.getByRole('button', { name: 'Rooms' }));

export async function enterRoom(page: Page, name: string): Promise<void> {
  const button = page.getByRole('button', { name: 'Rooms' });
  if (await button.isVisible()) await button.click();
  await page.getByRole('navigation', { name: 'Rooms' }).getByRole('link', { name }).click();
}

/** Drives the simulated outside world. */
export async function standin<T = unknown>(path: string, body?: object): Promise<T> {
  const init = body ? { method: 'POST', body: JSON.stringify(body) } : {};
  const response = await fetch(`${access.standins}${path}`, init);
  if (!response.ok) throw new Error(await response.text());
  return (await response.json()) as T;
}

/** Asks the API with the producer's personal access token. */
export async function api<T>(path: string, init: RequestInit = {}): Promise<T> {
  const headers = {
    authorization: `Bearer ${access.token}`,
    'content-type': 'application/json',
    ...init.headers,
  };
  return (await (await fetch(`${access.api}${path}`, { ...init, headers })).json()) as T;
}

interface EventFound {
  readonly id: string;
  readonly slug: string;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
}
export const events = async (): Promise<EventFound[]> =>
  (await api<{ items: EventFound[] }>('/events?limit=200')).items;
export const eventOf = async (slug: string): Promise<EventFound> =>
  (await events()).find((event) => event.slug === slug)!;

/** Nothing that axe finds, by WCAG 2.2 AA. @param rules - only these. */
export async function expectAccessible(page: Page, rules?: string[]): Promise<void> {
  // What fades in or out has no colour of its own yet.
  await page.emulateMedia({ reducedMotion: 'reduce' });
  // What passes need not be described, nor frames of others be looked into: both take long.
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
  const { violations } = await (
    rules ? axe.withRules(rules) : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
  ).analyze();
  await page.emulateMedia({ reducedMotion: null });
  expect(
    violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.target.join(' ')).join(', ')}`),
  ).toEqual([]);
}

/** Nothing that axe finds by day; in the booth's light only the colours are others. */
export async function expectAccessibleInBothLights(page: Page): Promise<void> {
  await expectAccessible(page);
  const booth = page.getByRole('button', { name: 'Booth light' });
  // The desk on air has the one light alone.
  if (!(await booth.isVisible())) return;
  await booth.click();
  await expectAccessible(page, ['color-contrast']);
  await page.getByRole('button', { name: 'Day light' }).click();
}

/** The frame's number in the code strip of what a video shows. */
export async function frameShown(video: Locator): Promise<number | null> {
  const lumas = await video.evaluate((element, centres) => {
    const { videoWidth: width, videoHeight: height } = element as HTMLVideoElement;
    const canvas = new OffscreenCanvas(width, height);
    const drawing = canvas.getContext('2d')!;
    drawing.drawImage(element as HTMLVideoElement, 0, 0);
    return centres.map(
      ({ x, y }) => drawing.getImageData(Math.floor(x * width), Math.floor(y * height), 1, 1).data[1]!,
    );
  }, stripCentres());
  return readStrip(lumas);
}

/** "Plays with sound": in five seconds of the picture's own time, four of five frames are shown, louder than −50 dBFS. */
export async function expectPlaysWithSound(video: Locator): Promise<void> {
  const analyser = await video.evaluateHandle(async (element) => {
    const context = new AudioContext();
    await context.resume();
    const made = context.createAnalyser();
    const source = context.createMediaElementSource(element as HTMLVideoElement);
    source.connect(made);
    source.connect(context.destination);
    return made;
  });
  const { frames, loudnessDbfs } = await video.evaluate(watchFiveSeconds, analyser);
  expect(frames).toBeGreaterThanOrEqual(0.8 * 5 * FRAMES_A_SECOND);
  expect(loudnessDbfs).toBeGreaterThan(-50);
}

/** Runs in the page. A machine that stands still makes it take longer, and changes nothing. */
async function watchFiveSeconds(
  element: Element,
  analyser: AnalyserNode,
): Promise<{ frames: number; loudnessDbfs: number }> {
  const player = element as HTMLVideoElement;
  const samples = new Float32Array(analyser.fftSize);
  let before = { time: player.currentTime, frames: player.getVideoPlaybackQuality().totalVideoFrames };
  let loudest = 0;
  while (player.currentTime < before.time + 5) {
    const last = player.currentTime;
    await new Promise((resolve) => setTimeout(resolve, 50));
    const { totalVideoFrames } = player.getVideoPlaybackQuality();
    // A leap to the live edge, past what was missed: the five seconds start again.
    if (player.currentTime < last || player.currentTime > last + 1) {
      before = { time: player.currentTime, frames: totalVideoFrames };
      loudest = 0;
    }
    analyser.getFloatTimeDomainData(samples);
    const meanSquare = samples.reduce((sum, sample) => sum + sample * sample, 0) / samples.length;
    loudest = Math.max(loudest, Math.sqrt(meanSquare));
  }
  const frames = player.getVideoPlaybackQuality().totalVideoFrames - before.frames;
  return { frames, loudnessDbfs: 20 * Math.log10(loudest) };
}

/** What goes wrong at a platform, or happens there. */
export const platformDoes = (platform: 'skerry' | 'windlass', order: object): Promise<unknown> =>
  fetch(`${access.platforms[platform]}/faults`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(order),
  });

/** Moves the clock of the installation, and of the platforms that it posts at; forward only. */
export async function setClock(toMs: number): Promise<void> {
  const order = { offsetMs: toMs - Date.now() };
  await standin('/clock', order);
  const init = { method: 'POST', headers: { 'content-type': 'application/json' } };
  await fetch(`${access.console}/api/test/clock`, { ...init, body: JSON.stringify(order) });
}

/** How far the picture of a page has played, in seconds. */
export const positionIn = (page: Page): Promise<number> =>
  page.locator('video').evaluate((video) => (video as HTMLVideoElement).currentTime);

/** What was pressed has been done within this, or is pressed again. */
const RESPITE_MS = 10_000;

/**
 * Holds a button until what it does has been done, as somebody would who looks at what comes of it: a press that came
 * to nothing is repeated.
 * @param hasTaken - whether it has been done
 */
export async function hold(page: Page, name: string, hasTaken: () => Promise<boolean>): Promise<void> {
  const button = page.getByRole('button', { name });
  await expect(async () => {
    if (await hasTaken()) return;
    await button.hover({ timeout: RESPITE_MS });
    await page.mouse.down();
    try {
      await expect.poll(hasTaken, { timeout: RESPITE_MS }).toBe(true);
    } finally {
      await page.mouse.up();
    }
  }).toPass();
}
