import { readFileSync } from 'node:fs';
import { type Browser, chromium, type Locator, type Page } from '@playwright/test';
import { CHROMIUM, CHROMIUM_WITH_CAMERA } from '../chromium.js';
import { until } from '../until.js';

export { until };

/** The installation under test, as `./heliphon test` started it. */
export const access = JSON.parse(readFileSync(process.env.HELIPHON_TEST_ACCESS!, 'utf8')) as {
  readonly console: string;
  readonly api: string;
  readonly token: string;
  readonly standins: string;
  readonly platforms: { readonly skerry: string };
  readonly people: readonly { role: string; email: string; password: string }[];
  readonly events: readonly { slug: string; state: string; watch: string }[];
  readonly processes: { readonly server: number; readonly media: number; readonly secondMedia: number };
};
export const onAir = access.events.find((event) => event.state === 'air')!;

export const openBrowser = (): Promise<Browser> => chromium.launch(CHROMIUM);
export const openBrowserWithCamera = (): Promise<Browser> => chromium.launch(CHROMIUM_WITH_CAMERA);

/** How far the picture of a page has played, in seconds. */
export const positionIn = (page: Page): Promise<number> =>
  page.locator('video').evaluate((video) => (video as HTMLVideoElement).currentTime);

/** Waits until so much more of the picture has been seen; one that stands says how it stands. */
export async function seesMore(page: Page, seconds: number): Promise<void> {
  const from = await positionIn(page);
  const wait = until(async () => (await positionIn(page)) >= from + seconds, `${seconds} s of picture`);
  await wait.catch(async (error: unknown) => {
    throw new Error(`${String(error)}, which stands: ${await pictureOf(page)}`, { cause: error });
  });
}

/** What the element and the page know of a picture. */
async function pictureOf(page: Page): Promise<string> {
  const video = await page.locator('video').evaluate((element) => {
    const { currentTime, paused, muted, readyState, networkState, error, buffered, seekable } =
      element as HTMLVideoElement;
    const ranges = (of: TimeRanges): string =>
      Array.from({ length: of.length }, (_, index) => `${of.start(index)}–${of.end(index)}`).join();
    const [inBuffer, inReach] = [buffered, seekable].map(ranges);
    return { currentTime, paused, muted, readyState, networkState, error: error?.message, inBuffer, inReach };
  });
  return `${JSON.stringify(video)}; the page says: ${await page.locator('body').innerText()}`;
}

/** Somebody who watches what is on air, with sound. */
export async function openViewer(browser: Browser): Promise<Page> {
  const page = await browser.newPage();
  await page.goto(onAir.watch);
  await page.getByRole('button', { name: 'Turn the sound on' }).click();
  await seesMore(page, 3);
  return page;
}

/** The console, as a producer has it. */
export async function openConsole(browser: Browser): Promise<Page> {
  const page = await browser.newPage();
  const producer = access.people.find(({ role }) => role === 'producer')!;
  await page.goto(access.console);
  await page.getByLabel('Email').fill(producer.email);
  await page.getByLabel('Password').fill(producer.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('navigation', { name: 'Rooms' }).waitFor();
  return page;
}

const FAR_AWAY_MS = 300;

/**
 * Somebody of the house who sends the camera of their own device to a source.
 * @param near - an address at the media node that is nearest to them; to others it is a long way.
 */
export async function openSender(sourceId: string, browser: Browser, near: string): Promise<Page> {
  const page = await openConsole(browser);
  await page.route('**/reach', async (route) => {
    const isNear = new URL(route.request().url()).origin === new URL(near).origin;
    if (!isNear) await new Promise((resolve) => setTimeout(resolve, FAR_AWAY_MS));
    await route.continue();
  });
  await page.goto(`${access.console}/sources/${sourceId}/camera`);
  await page.getByRole('button', { name: 'Start camera and microphone' }).click();
  await page.getByRole('button', { name: 'Send my picture' }).click();
  await page.getByText('We are receiving your picture.').waitFor();
  return page;
}

/** The desk of what is on air. */
async function openDesk(browser: Browser): Promise<Page> {
  const page = await openConsole(browser);
  await page
    .getByRole('navigation', { name: 'Today' })
    .getByRole('link', { name: /on air/i })
    .click();
  await page.getByRole('region', { name: 'Coming in' }).waitFor();
  return page;
}

/** The page of the simulated outside world, where things can be made to go wrong. */
async function openStandIns(browser: Browser): Promise<Page> {
  const page = await browser.newPage();
  await page.goto(access.standins);
  return page;
}

/** Everybody who may notice a fault, and where it is made. */
export interface Sides {
  readonly browser: Browser;
  readonly viewer: Page;
  readonly desk: Page;
  readonly outside: Page;
  /** Of what is on air, on the page outside. */
  readonly encoder: Locator;
}

export async function openSides(): Promise<Sides> {
  const browser = await openBrowser();
  const viewer = await openViewer(browser);
  const desk = await openDesk(browser);
  const outside = await openStandIns(browser);
  const encoder = outside.getByRole('article').filter({ hasText: 'pier-camera' });
  return { browser, viewer, desk, outside, encoder };
}

/** Asks the API with the producer's personal access token. */
export async function api<T>(
  path: string,
  { method, body, version }: { method?: string; body?: object; version?: number } = {},
): Promise<T> {
  const answer = await fetch(`${access.api}${path}`, {
    method: method ?? (body ? 'POST' : 'GET'),
    headers: {
      authorization: `Bearer ${access.token}`,
      'content-type': 'application/json',
      ...(version === undefined ? {} : { 'if-match': `"${version}"` }),
    },
    body: body ? JSON.stringify(body) : null,
  });
  if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as T;
}

/** True when server and media node both answer. */
export async function healthy(): Promise<boolean> {
  const health = (await (await fetch(`${access.console}/api/health`)).json()) as { mediaNode: string };
  return health.mediaNode === 'here';
}
