import { expect, type Page, test } from '@playwright/test';
import { access, onAir } from './house.js';

/** Two minutes long. */
const REPLAY = `${access.console}/watch/lamplight-evensong`;

const seconds = (page: Page): Promise<number> =>
  page.evaluate(() => document.querySelector('video')!.currentTime);
const isPlaying = (page: Page) =>
  expect(page.getByRole('group', { name: /Player/ })).toHaveAttribute('data-state', 'playing');

test('a replay is seen at one’s own speed, with clearer speech, and gone on with where one stopped', async ({
  page,
}) => {
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(String(error)));
  await page.goto(REPLAY);
  await isPlaying(page);

  await test.step('faster, and speech clearer, without a break', async () => {
    await page.getByLabel('Speed').selectOption({ label: 'Twice as fast' });
    await page.getByRole('button', { name: 'Turn the sound on' }).click();
    await page.getByRole('button', { name: 'Clearer speech' }).click();
    await expect(page.getByRole('button', { name: 'Speech is clearer' })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
    expect(await page.evaluate(() => document.querySelector('video')!.playbackRate)).toBe(2);
    const from = await seconds(page);
    await expect.poll(() => seconds(page)).toBeGreaterThan(from + 4);
    await page.getByRole('button', { name: 'Speech is clearer' }).click();
    await isPlaying(page);
  });

  await test.step('a choice is made by the keyboard, and the picture stays where it is', async () => {
    const from = await seconds(page);
    await page.getByLabel('Speed').focus();
    await page.keyboard.press('ArrowUp');
    await expect(page.getByLabel('Speed')).toHaveValue('1.5');
    expect(Math.abs((await seconds(page)) - from)).toBeLessThan(5);
  });

  await test.step('somebody who comes back may go on where they stopped', async () => {
    await page.getByLabel('Where you are').fill('70');
    await expect.poll(() => seconds(page)).toBeGreaterThan(70);
    await page.reload();
    await isPlaying(page);
    expect(await seconds(page)).toBeLessThan(60);
    await page.getByRole('button', { name: 'Go on where you stopped, after 1 min' }).click();
    await expect.poll(() => seconds(page)).toBeGreaterThan(69);
    await expect(page.getByRole('button', { name: /Go on where/ })).toBeHidden();
  });

  expect(faults).toEqual([]);
});

test('a moment is shared by its address, and opens there', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(`${REPLAY}#t=45`);
  await isPlaying(page);
  await expect.poll(() => seconds(page)).toBeGreaterThan(44);
  await page.getByRole('button', { name: 'Share this moment' }).click();
  await expect(page.getByText('The address of this moment is ready to be pasted.')).toBeVisible();
  const shared = await page.evaluate(() => navigator.clipboard.readText());
  expect(shared).toMatch(/\/watch\/lamplight-evensong#t=4[5-9]$/);
  // Nothing that could be a moment: it begins at its beginning.
  await page.goto('about:blank');
  await page.goto(`${REPLAY}#t=soon`);
  await isPlaying(page);
  expect(await seconds(page)).toBeLessThan(30);
});

test('pointing at a place of what is live shows what is there, and when that was', async ({ page }) => {
  await page.goto(`${access.console}/watch/${onAir.slug}`);
  await isPlaying(page);
  const scrubber = page.getByLabel('Where you are');
  const picture = page.locator('.looked-at img');
  // Not each minute has one: the node may have had better things to do.
  await expect
    .poll(async () => {
      const { x, y, width, height } = (await scrubber.boundingBox())!;
      for (const share of [0.99, 0.8, 0.6, 0.4]) {
        await page.mouse.move(x + width * share, y + height / 2);
        if (await picture.evaluate((image: HTMLImageElement) => image.naturalWidth).catch(() => 0))
          return true;
      }
      return false;
    })
    .toBe(true);
  expect(
    await picture.evaluate((image: HTMLImageElement) => [image.naturalWidth, image.naturalHeight]),
  ).toEqual([320, 180]);
  await expect(page.locator('.looked-at')).toContainText(/\d\d:\d\d/);
  await page.mouse.move(5, 5);
  await expect(page.locator('.looked-at')).toBeHidden();
});

test('where there are arrow keys and nothing to point with, they lead through the page', async ({ page }) => {
  await page.addInitScript(() => {
    const real = window.matchMedia.bind(window);
    window.matchMedia = (query) => (query === '(any-pointer: none)' ? real('all') : real(query));
  });
  await page.goto(REPLAY);
  await isPlaying(page);
  await page.getByRole('button', { name: 'Pause' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('button', { name: 'Back 10 s' })).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByLabel('Where you are')).toBeFocused();
  const from = await seconds(page);
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeFocused();
  expect(Math.abs((await seconds(page)) - from)).toBeLessThan(5);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Play' })).toBeFocused();
});
