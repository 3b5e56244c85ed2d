import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from '@playwright/test';
import { access, onAir } from './house.js';

test('a viewer learns whether it is us or them, and makes the words larger', async ({ page }) => {
  await page.goto(onAir.watch);
  await page.getByRole('button', { name: 'No sound? No picture?' }).click();
  await page.getByRole('button', { name: 'The sound', exact: true }).click();
  await expect(page.getByText('It seems to be at your end.')).toBeVisible();
  const size = (): Promise<string> =>
    page.evaluate(() => getComputedStyle(document.documentElement).fontSize);
  const before = await size();
  await page.getByRole('button', { name: 'Larger text' }).click();
  expect(parseFloat(await size())).toBeGreaterThan(parseFloat(before));
  await page.reload();
  expect(parseFloat(await size())).toBeGreaterThan(parseFloat(before));
});

test('on a weak line the picture can be left out, without losing one’s place', async ({ page }) => {
  await page.goto(onAir.watch);
  const player = page.getByRole('group', { name: /Player/ });
  const video = page.locator('video');
  const widthPx = (): Promise<number> => video.evaluate((element: HTMLVideoElement) => element.videoWidth);
  await expect(player).toHaveAttribute('data-state', 'playing');
  const back = page.getByRole('button', { name: 'Back 10 s' });
  for (let times = 0; times < 3; times += 1) await back.click();
  const late = page.getByRole('button', { name: /^You are \d+ s late/ });
  await expect(late).toBeVisible();
  await expect(player).toHaveAttribute('data-state', 'playing');

  const quality = page.getByLabel('Quality');
  await quality.selectOption('Sound only');
  await expect(page.getByText('Sound only, as you chose')).toBeVisible();
  await expect(player).toHaveAttribute('data-state', 'playing');
  expect(await widthPx()).toBe(0);
  const secondsLate = Number(/\d+/.exec((await late.textContent())!)![0]);
  expect(secondsLate).toBeGreaterThan(20);
  expect(secondsLate).toBeLessThan(45);
  await page.getByRole('button', { name: 'No sound? No picture?' }).click();
  await page.getByRole('button', { name: 'The picture', exact: true }).click();
  await expect(page.getByText('“Sound only” is chosen.')).toBeVisible();

  await late.click();
  await expect(late).toBeHidden();
  await quality.selectOption('Picture and sound');
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
  await expect.poll(position, { timeout: 30_000 }).toBeGreaterThan(hungAt + 12);
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
