import { expect, test } from '@playwright/test';
import { access, eventOf, signIn } from './house.js';

test('a stop before the start and a pasted address with a space are told in words, and nothing is lost', async ({
  page,
}) => {
  await signIn(page);
  const { id } = await eventOf('shanty-quiz');
  await page.goto(`${access.console}/events/${id}/plan`);
  const stops = page.getByLabel('Stops');
  const right = await stops.inputValue();
  await stops.fill(right.replace(/T.*/, 'T05:00'));
  await expect(page.getByText('The end is before the start. Choose a later end.').first()).toBeVisible();
  await expect(stops).toHaveValue(right.replace(/T.*/, 'T05:00'));
  await stops.fill(right);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();

  await page.goto(`${access.console}/places`);
  await page.getByRole('button', { name: 'Add a place' }).click();
  await page.getByLabel('Name of the place').fill('Diocese relay');
  await page.getByLabel('Whole address, including the key').fill('rtmp://relay.example/live/our key');
  await expect(page.getByText('There is a space in this address.')).toBeVisible();
  await page.getByLabel('Whole address, including the key').fill('rtmp://relay.example/live/our-key');
  await expect(page.getByLabel('The parts of the address')).toContainText('relay.example');
});

test('another event like one is planned for the week after, with its words and places', async ({ page }) => {
  await signIn(page);
  const { id } = await eventOf('shanty-quiz');
  await page.goto(`${access.console}/events/${id}/plan`);
  const words = await page.getByLabel('Description').inputValue();
  const starts = await page.getByLabel('Starts').inputValue();
  await page.getByRole('button', { name: 'Plan another like it' }).click();
  const dialog = page.getByRole('dialog', { name: 'Plan another like it' });
  await expect(dialog.getByLabel('Title')).toHaveValue('Shanty Quiz');
  const day = await dialog.getByLabel('Day').inputValue();
  expect(Date.parse(day) - Date.parse(starts.slice(0, 10))).toBe(7 * 86_400_000);
  await dialog.getByLabel('Title').fill('Shanty Quiz, the return');
  await dialog.getByRole('button', { name: 'Plan the event' }).click();
  await expect(page.getByRole('heading', { name: 'Shanty Quiz, the return' })).toBeVisible();
  await expect(page.getByLabel('Description')).toHaveValue(words);
  await expect(page.getByLabel('Starts')).toHaveValue(`${day}${starts.slice(10)}`);
});

test('one’s calendar address is made, followed, and ended', async ({ page, request }) => {
  await signIn(page);
  await page.goto(`${access.console}/house/access`);
  const mine = page.getByRole('region', { name: 'My calendar' });
  await mine.getByRole('button', { name: 'Make my address' }).click();
  const address = await mine.getByLabel('Private address').inputValue();
  expect(await (await request.get(address)).text()).toContain('SUMMARY:Harbour Blessing');
  await mine.getByRole('button', { name: 'Revoke' }).click();
  await expect(mine.getByRole('button', { name: 'Make my address' })).toBeVisible();
  expect((await request.get(address)).status()).toBe(404);
});

test('a treasurer may look and not touch', async ({ page }) => {
  await signIn(page, 'treasurer');
  await expect(page.getByRole('link', { name: /Harbour Blessing/ }).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Plan an event' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Sources' }).click();
  await expect(page.getByRole('heading', { name: 'Pier camera' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Address and key' })).toHaveCount(0);
});

test('G A leads to what is on air, by keyboard alone', async ({ page }) => {
  await signIn(page);
  await expect(
    page.getByRole('navigation', { name: 'Today' }).getByRole('link', { name: /Harbour Blessing/ }),
  ).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('a');
  await expect(page).toHaveURL(/\/air$/);
  await expect(page.locator('[data-light=booth]').first()).toBeVisible();
});

test('the palette reaches a room and an event by name, and ? shows the keys', async ({ page }) => {
  await signIn(page);
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Go to a room or event, or do something …').fill('archive');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Archive' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Go to a room or event, or do something …').fill('shanty quiz');
  await expect(page.getByRole('option', { name: /^Shanty Quiz/, selected: true })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Shanty Quiz/ })).toBeVisible();
  await page.locator('main').focus();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
});
