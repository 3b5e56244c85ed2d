import { expect, test } from '@playwright/test';
import { access, signIn } from './house.js';

test('a recording is renamed, gets a frame as its poster, lies in the bin and comes back', async ({
  page,
}) => {
  await signIn(page);
  await page.goto(`${access.console}/archive`);
  const kept = page.getByRole('main').getByRole('listitem'); // what is told in passing is a list too
  const row = kept.filter({ hasText: 'Shanty Quiz, first round' });
  await row.getByRole('button', { name: 'Change' }).click();
  await page.getByLabel('Title of the recording').fill('Shanty Quiz, the first round');
  await page.getByRole('button', { name: 'Save the description' }).click();
  await expect(page.getByRole('link', { name: 'Shanty Quiz, the first round' })).toBeVisible();
  const named = kept.filter({ hasText: 'Shanty Quiz, the first round' });
  const posters = named.locator('img');
  const before = (await posters.count()) > 0 ? await posters.first().getAttribute('src') : null;
  await page.getByRole('button', { name: 'Make this frame the poster' }).click();
  await expect(posters.first()).toHaveAttribute('src', /posters/);
  await expect.poll(() => posters.first().getAttribute('src')).not.toBe(before);
  await page.getByRole('button', { name: 'Put it in the bin' }).click();
  await expect(named).toHaveCount(0);
  await page.getByRole('button', { name: 'Open the bin' }).click();
  await named.getByRole('button', { name: 'Put it back' }).click();
  await page.getByRole('button', { name: 'Back to the archive' }).click();
  await expect(named).toHaveCount(1);
  const mp4 = await named
    .getByRole('button', { name: 'Change' })
    .click()
    .then(() => page.getByRole('link', { name: 'Download as MP4' }).getAttribute('href'));
  const head = await fetch(mp4!, { method: 'HEAD' });
  expect([head.status, head.headers.get('content-type')]).toEqual([200, 'video/mp4']);
  await page.getByLabel('Title of the recording').fill('Shanty Quiz, first round');
  await page.getByRole('button', { name: 'Save the description' }).click();
  await expect(row).toHaveCount(1);
});
