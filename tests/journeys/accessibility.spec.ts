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

test('axe finds nothing in Week, Series, workspace, On air, Sources and Where it goes, in both lights', async ({
  page,
}) => {
  await signIn(page);
  const [air, planned] = [(await eventOf(onAir.slug)).id, (await eventOf('bell-ringers-quarter-peal')).id];
  const pier = (await api<{ items: { id: string; name: string }[] }>('/sources')).items.find(
    ({ name }) => name === 'Pier camera',
  )!;
  const [series] = (await api<{ items: { id: string }[] }>('/series')).items;
  const rooms: [string, string][] = [
    ['/', 'Harbour Blessing'],
    ['/series', 'next: '],
    [`/series/${series!.id}`, 'One address for all dates'],
    [`/events/${planned}/plan`, 'Ready to go on air?'],
    ['/?view=month', monthNow()],
    ['/?q=quarter', 'Bell-ringers’ Quarter Peal'],
    ['/duties', 'Add to my calendar'],
    [`/events/${air}/order`, 'Bell and welcome'],
    [`/events/${planned}/rehearse`, 'Rehearse now, in private'],
    [`/events/${planned}/connect`, 'What is coming in'],
    [`/events/${air}/air`, 'Where it goes'],
    ['/sources', 'Pier camera'],
    ['/sources?pair=BCDF-GHJK', 'Code on the box’s screen'],
    [`/sources/${pier.id}/camera`, 'Start camera and microphone'],
    ['/places', 'Our website'],
    ['/archive', 'Lamplight Evensong'],
    ['/archive/files', 'The harbour at dusk.flv'],
  ];
  for (const [path, words] of rooms) {
    await page.goto(access.console + path);
    await expect(page.getByText(words).filter({ visible: true }).first()).toBeVisible();
    await expectAccessibleInBothLights(page);
  }
  await page.goto(`${access.console}/sources`);
  await page.getByRole('button', { name: 'Address and key' }).first().click();
  await page.getByText('All sizes and what they need').click();
  await page.getByRole('button', { name: 'Invite a guest' }).click();
  await expectAccessibleInBothLights(page);
});

/** On a phone too, and nothing runs over its edge. */
async function expectAccessibleOnBoth(page: Page): Promise<void> {
  await expectAccessible(page);
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

test('axe finds nothing in Our house, the archive’s editor and the bin, in both lights, with motion reduced', async ({
  page,
}) => {
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await signIn(page, 'owner');
  const rooms: [string, string][] = [
    ['/house', 'Invite somebody'],
    ['/house/channels', 'Add a channel'],
    ['/house/access', 'Two-step sign-in'],
    ['/house/look', 'House rules of the chat'],
    ['/house/record', 'Search the record'],
  ];
  for (const [path, words] of rooms) {
    await page.goto(access.console + path);
    await expect(page.getByText(words).filter({ visible: true }).first()).toBeVisible();
    await expectAccessibleInBothLights(page);
  }
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
