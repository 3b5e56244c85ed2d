import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from '@playwright/test';
import { access, onAir } from './house.js';

test('a viewer learns whether it is us or them, makes the words larger, and finds a one-line embed working', async ({
  page,
}) => {
  await page.goto(onAir.watch);
  await page.getByRole('button', { name: 'No sound? No picture?' }).click();
  await page.getByRole('button', { name: 'The sound', exact: true }).click();
  await expect(page.getByText('It is at your side.')).toBeVisible();
  const size = (): Promise<string> =>
    page.evaluate(() => getComputedStyle(document.documentElement).fontSize);
  const before = await size();
  await page.getByRole('button', { name: 'Larger text' }).click();
  expect(parseFloat(await size())).toBeGreaterThan(parseFloat(before));
  await page.reload();
  expect(parseFloat(await size())).toBeGreaterThan(parseFloat(before));

  // A customer's page on another site, with nothing but the one line.
  const line = `<script async src="${access.console}/embed.js" data-event="${onAir.slug}"></script>`;
  const site = createServer((_request, response) => {
    response.setHeader('content-type', 'text/html');
    response.end(`<title>Ours</title><div style="width:480px">${line}</div>`);
  }).listen(0, '127.0.0.1');
  await once(site, 'listening');
  await page.goto(`http://localhost:${(site.address() as AddressInfo).port}/`);
  const frame = page.frameLocator('iframe');
  await expect(frame.getByRole('button', { name: 'Turn the sound on' })).toBeVisible();
  await expect.poll(async () => (await page.locator('iframe').boundingBox())!.height).toBeGreaterThan(300);
  await page.goto('about:blank');
  site.closeAllConnections();
  site.close();
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
