import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from '@playwright/test';
import { access, eventOf, expectAccessible, onAir, signIn } from './house.js';

test('a viewer learns whether it is us or them, and makes the words larger', async ({ page }) => {
  await page.goto(onAir.watch);
  await expect(page.getByRole('group', { name: /Player/ })).toHaveAttribute('data-state', 'playing');
  await page.getByRole('button', { name: 'No sound? No picture?' }).click();
  await page.getByRole('button', { name: 'The sound', exact: true }).click();
  await expect(page.getByText('It seems to be at your end.')).toBeVisible();
  await page.getByRole('button', { name: 'Tell Lantern Quay Commons' }).click();
  await expect(page.getByText('Lantern Quay Commons knows about it now. Thank you.')).toBeVisible();
  const size = (): Promise<string> =>
    page.evaluate(() => getComputedStyle(document.documentElement).fontSize);
  const before = await size();
  await page.getByRole('button', { name: 'Larger text' }).click();
  expect(parseFloat(await size())).toBeGreaterThan(parseFloat(before));
  await page.reload();
  expect(parseFloat(await size())).toBeGreaterThan(parseFloat(before));
});

test('what viewers tell stands at the desk, with what their players did', async ({ page }) => {
  const { id } = await eventOf(onAir.slug);
  const told = {
    complaint: 'picture',
    finding: 'slow',
    moments: [{ atMs: Date.now(), status: 'waiting', lateSeconds: 9, isMuted: true }],
  };
  await fetch(`${access.api}/public/events/${onAir.slug}/reports`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(told),
  });
  await signIn(page);
  await page.goto(`${access.console}/events/${id}/air`);
  await expect(page.getByText(/tells? us: .*no picture/)).toBeVisible();
  await page.getByRole('link', { name: 'Read what they tell' }).click();
  await expect(page.getByText('no picture. We found: their line was too slow').first()).toBeVisible();
  await page.getByText('What their player did').first().click();
  await expect(page.getByText(/waiting −0:00:09/).first()).toBeVisible();
});

test('on a weak line the picture can be left out, without losing one’s place', async ({ page }) => {
  await page.goto(onAir.watch);
  const player = page.getByRole('group', { name: /Player/ });
  const video = page.locator('video');
  const widthPx = (): Promise<number> => video.evaluate((element: HTMLVideoElement) => element.videoWidth);
  await expect(player).toHaveAttribute('data-state', 'playing');
  const back = page.getByRole('button', { name: 'Back 10 s' });
  const late = page.getByRole('button', { name: /^You are \d+ s late/ });
  const secondsLate = async (): Promise<number> => Number(/\d+/.exec((await late.textContent())!)![0]);
  // An event that has just begun lets nobody back that far yet.
  await expect
    .poll(async () => {
      await back.click();
      return secondsLate();
    })
    .toBeGreaterThan(20);
  await expect(player).toHaveAttribute('data-state', 'playing');
  const before = await secondsLate();

  const size = page.getByRole('combobox', { name: 'Picture' });
  await size.selectOption('Sound only');
  await expect(page.getByText('Sound only, as you chose')).toBeVisible();
  await expect(player).toHaveAttribute('data-state', 'playing');
  expect(await widthPx()).toBe(0);
  expect(Math.abs((await secondsLate()) - before)).toBeLessThan(10);
  await page.getByRole('button', { name: 'No sound? No picture?' }).click();
  await page.getByRole('button', { name: 'The picture', exact: true }).click();
  await expect(page.getByText('“Sound only” is chosen.')).toBeVisible();

  await late.click();
  await expect(late).toBeHidden();
  await size.selectOption('Picture and sound');
  await expect.poll(widthPx).toBeGreaterThan(0);
  await expect(player).toHaveAttribute('data-state', 'playing');
});

test('a picture that hangs recovers by itself', async ({ page }) => {
  await page.goto(onAir.watch);
  const player = page.getByRole('group', { name: /Player/ });
  await expect(player).toHaveAttribute('data-state', 'playing');
  const video = page.locator('video');
  // As a decoder or a sound card hangs: there is enough to play, and time does not pass.
  await video.evaluate((element: HTMLVideoElement) => void (element.playbackRate = 0));
  const position = (): Promise<number> => video.evaluate((element: HTMLVideoElement) => element.currentTime);
  const hungAt = await position();
  await expect.poll(position).toBeGreaterThan(hungAt + 12);
  const again = await position();
  await expect.poll(position).toBeGreaterThan(again + 2);
});

/** Ways in which a customer puts the one line into a page of another site. */
const LINES: readonly { readonly way: string; readonly head?: string; readonly body?: string }[] = [
  { way: 'where it stands', body: 'async' },
  { way: 'as a module', body: 'type="module"' },
  { way: 'with crossorigin', body: 'async crossorigin' },
  { way: 'in the head', head: '' },
];
for (const { way, head, body } of LINES) {
  test(`a one-line embed plays ${way}, also on a page that isolates itself`, async ({ page }) => {
    const line = (attributes?: string): string =>
      attributes === undefined
        ? ''
        : `<script ${attributes} src="${access.console}/embed.js" data-event="${onAir.slug}"></script>`;
    const site = createServer((_request, response) => {
      response.setHeader('content-type', 'text/html');
      response.setHeader('cross-origin-embedder-policy', 'require-corp');
      response.end(`<title>Ours</title>${line(head)}<body><div style="width:480px">${line(body)}</div>`);
    }).listen(0, '127.0.0.1');
    await once(site, 'listening');
    await page.goto(`http://localhost:${(site.address() as AddressInfo).port}/`);
    await expect(
      page.frameLocator('iframe').getByRole('button', { name: 'Turn the sound on' }),
    ).toBeVisible();
    await expect.poll(async () => (await page.locator('iframe').boundingBox())!.height).toBeGreaterThan(300);
    await page.goto('about:blank');
    site.closeAllConnections();
    site.close();
  });
}

for (const [where, viewport] of [
  ['beside the picture', { width: 1280, height: 800 }],
  ['under it on a phone', { width: 390, height: 844 }],
] as const) {
  test(`the chat opens ${where}, and the picture stays in sight`, async ({ page }) => {
    await page.setViewportSize(viewport);
    await page.goto(onAir.watch);
    await expect(page.getByRole('group', { name: /Player/ })).toHaveAttribute('data-state', 'playing');
    await page.getByRole('button', { name: /^Chat/ }).click();
    await expect(page.getByRole('button', { name: 'Join the chat' })).toBeInViewport();
    const video = (await page.locator('video').boundingBox())!;
    expect(video.y).toBeGreaterThanOrEqual(0);
    expect(video.y + video.height).toBeLessThanOrEqual(viewport.height);
  });
}

test('without a line the house’s own splash stands there, and the page opens by itself', async ({
  browser,
}) => {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto(onAir.watch);
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await context.setOffline(true);
  await page.reload();
  await expect(page.getByText('Your device is not connected', { exact: false })).toBeVisible();
  await expect(page.getByText('Lantern Quay Commons')).toBeVisible();
  await expect
    .poll(() => page.locator('img').evaluate((logo: HTMLImageElement) => logo.naturalWidth))
    .toBeGreaterThan(0);
  await expectAccessible(page);
  await context.setOffline(false);
  await expect(page.getByRole('group', { name: /Player/ })).toBeVisible();
  await context.close();
});
