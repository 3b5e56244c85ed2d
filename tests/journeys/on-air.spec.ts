import { expect, test } from '@playwright/test';
import { access, expectPlaysWithSound, FRAMES_A_SECOND, frameShown, onAir, standin } from './house.js';

const FILM_FRAMES = 1800;

test('the watch page plays with sound after one click', async ({ page }) => {
  await page.goto(onAir.watch);
  const sound = page.getByRole('button', { name: 'Turn the sound on' });
  await sound.click();
  await expect(sound).toBeHidden();
  await expect(page.getByText('On air now')).toBeVisible();
  await expectPlaysWithSound(page.locator('video'));
});

test('the embed plays with sound on a customer’s website', async ({ page }) => {
  await page.goto(access.website);
  const embed = page.frameLocator('iframe');
  await embed.getByRole('button', { name: 'Turn the sound on' }).click();
  await expectPlaysWithSound(embed.locator('video'));
});

test('the place shows the same picture as the player', async ({ page }) => {
  await page.goto(onAir.watch);
  const video = page.locator('video');
  await expect
    .poll(() => video.evaluate((element) => (element as HTMLVideoElement).currentTime))
    .toBeGreaterThan(1);
  await expect
    .poll(async () => {
      const [shown, { frame }] = await Promise.all([
        frameShown(video),
        standin<{ frame: number | null }>('/platform/lantern-quay-1/frame'),
      ]);
      if (shown === null || frame === null) return Infinity;
      const apart = Math.abs(shown - frame);
      return Math.min(apart, FILM_FRAMES - apart) / FRAMES_A_SECOND;
    })
    .toBeLessThan(10);
});

test('a forged address is refused, and an event that is not there says so', async ({ page }) => {
  await page.goto(`${access.console}/watch/never-planned`);
  await expect(page.getByRole('alert')).toContainText('There is nothing at this address');
});
