import { expect, type Page, test } from '@playwright/test';
import {
  access,
  api,
  eventOf,
  expectAccessible,
  expectAccessibleInBothLights,
  onAir,
  signIn,
} from './house.js';

const monthNow = (): string =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'Europe/London' }).format();

/** Rooms by address, each with words that stand in it once it is there. */
async function expectRoomsAccessible(page: Page, rooms: readonly [string, string][]): Promise<void> {
  for (const [path, words] of rooms) {
    await page.goto(access.console + path);
    await expect(page.getByText(words).filter({ visible: true }).first()).toBeVisible();
    await expectAccessibleInBothLights(page);
  }
}

test('axe finds nothing in Week, Series and duties, in both lights', async ({ page }) => {
  await signIn(page);
  const [series] = (await api<{ items: { id: string }[] }>('/series')).items;
  await expectRoomsAccessible(page, [
    ['/', 'Harbour Blessing'],
    ['/?view=month', monthNow()],
    ['/?q=quarter', 'Bell-ringers’ Quarter Peal'],
    ['/series', 'next: '],
    [`/series/${series!.id}`, 'One address for all dates'],
    ['/duties', 'Add to my calendar'],
  ]);
});

test('axe finds nothing in an event’s stages, in both lights', async ({ page }) => {
  await signIn(page);
  const [air, planned] = [(await eventOf(onAir.slug)).id, (await eventOf('bell-ringers-quarter-peal')).id];
  await expectRoomsAccessible(page, [
    [`/events/${planned}/plan`, 'Ready to go on air?'],
    [`/events/${planned}/rehearse`, 'Rehearse now, in private'],
    [`/events/${planned}/connect`, 'What is coming in'],
    [`/events/${air}/order`, 'Bell and welcome'],
    [`/events/${air}/air`, 'Where it goes'],
  ]);
});

test('axe finds nothing in Sources, Where it goes and the archive, in both lights', async ({ page }) => {
  await signIn(page);
  const pier = (await api<{ items: { id: string; name: string }[] }>('/sources')).items.find(
    ({ name }) => name === 'Pier camera',
  )!;
  await expectRoomsAccessible(page, [
    ['/sources?pair=BCDF-GHJK', 'Code on the box’s screen'],
    [`/sources/${pier.id}/camera`, 'Start camera and microphone'],
    ['/places', 'Our website'],
    ['/archive', 'Lamplight Evensong'],
    ['/archive/files', 'The harbour at dusk.flv'],
    ['/sources', 'Pier camera'],
  ]);
  await page.getByRole('button', { name: 'Address and key' }).first().click();
  await page.getByText('All sizes and what they need').click();
  await page.getByRole('button', { name: 'Invite a guest' }).click();
  await expectAccessibleInBothLights(page);
});

/** In the dark and on a phone too, and nothing runs over its edge. */
async function expectAccessibleOnBoth(page: Page): Promise<void> {
  await expectAccessible(page);
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(page.locator('html')).toHaveAttribute('data-light', 'booth');
  await expectAccessible(page, ['color-contrast']);
  await page.emulateMedia({ colorScheme: 'light' });
  await page.setViewportSize({ width: 390, height: 844 });
  await expectAccessible(page);
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
}

test('axe finds nothing on the watch page, chat open, nor on a phone', async ({ page }) => {
  await page.goto(onAir.watch);
  await page.getByRole('button', { name: /^Chat/ }).click();
  await expect(page.getByLabel('Your name')).toBeVisible();
  await expectAccessibleOnBoth(page);
});

test('axe finds nothing on a channel’s page, nor on a phone', async ({ page }) => {
  await page.goto(`${access.console}/channel/harbour`);
  await expect(page.getByRole('link', { name: /On air now/ })).toBeVisible();
  await expectAccessibleOnBoth(page);
});

test('axe finds nothing in Our house, the archive’s editor and the bin, in both lights', async ({ page }) => {
  await signIn(page, 'owner');
  await expectRoomsAccessible(page, [
    ['/house', 'Invite somebody'],
    ['/house/channels', 'Add a channel'],
    ['/house/access', 'Two-step sign-in'],
    ['/house/look', 'House rules of the chat'],
    ['/house/record', 'Search the record'],
  ]);
  await page.goto(`${access.console}/archive`);
  await page.getByRole('button', { name: 'Change' }).first().click();
  await expect(page.getByRole('button', { name: 'Make this frame the poster' })).toBeVisible();
  await expectAccessibleInBothLights(page);
});

test('the week is a list on a phone, and nothing runs over at 200 % zoom', async ({ page }) => {
  await signIn(page);
  for (const width of [390, 640]) {
    await page.setViewportSize({ width, height: 844 });
    await page.goto(access.console);
    await expect(page.getByRole('link', { name: /Harbour Blessing/ }).last()).toBeVisible();
    const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect([width, overflow <= 0]).toEqual([width, true]);
  }
});
