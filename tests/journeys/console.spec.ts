import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { access, api, onAir, signIn } from './house.js';

const eventIdOf = async (slug: string): Promise<string> => {
  const { items } = await api<{ items: { id: string; slug: string }[] }>('/events?limit=200');
  return items.find((event) => event.slug === slug)!.id;
};

async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(
    violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.target.join(' ')).join(', ')}`),
  ).toEqual([]);
}

for (const light of ['day', 'booth'] as const) {
  test(`axe finds nothing in Week, workspace, On air, Sources and Where it goes by ${light} light`, async ({
    page,
  }) => {
    await page.addInitScript((chosen) => localStorage.setItem('heliphon.light', chosen), light);
    await signIn(page);
    const [air, planned] = [await eventIdOf(onAir.slug), await eventIdOf('bell-ringers-quarter-peal')];
    const rooms: [string, string][] = [
      ['/', 'Harbour Blessing'],
      [`/events/${planned}/plan`, 'Ready for air?'],
      [`/events/${planned}/connect`, 'What arrives'],
      [`/events/${air}/air`, 'Where it goes'],
      ['/sources', 'Pier camera'],
      ['/places', 'Our website'],
      ['/archive', 'Lamplight Evensong'],
    ];
    for (const [path, words] of rooms) {
      await page.goto(access.console + path);
      await expect(page.getByText(words).first()).toBeVisible();
      await expectAccessible(page);
    }
  });
}

test('axe finds nothing on the watch page, chat open, nor on a phone', async ({ page }) => {
  await page.goto(onAir.watch);
  await page.getByRole('button', { name: /^Chat/ }).click();
  await expect(page.getByLabel('Your name')).toBeVisible();
  await expectAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await expectAccessible(page);
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
});

test('a stop before the start and a pasted address with a space are told in words, and nothing is lost', async ({
  page,
}) => {
  await signIn(page);
  const id = await eventIdOf('shanty-quiz');
  await page.goto(`${access.console}/events/${id}/plan`);
  const stops = page.getByLabel('Stops');
  const right = await stops.inputValue();
  await stops.fill(right.replace(/T.*/, 'T05:00'));
  await expect(page.getByText('It would stop before it starts. Choose a later stop.').first()).toBeVisible();
  await expect(stops).toHaveValue(right.replace(/T.*/, 'T05:00'));
  await stops.fill(right);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();

  await page.goto(`${access.console}/places`);
  await page.getByRole('button', { name: 'Add a place' }).click();
  await page.getByLabel('Name of the place').fill('Diocese relay');
  await page.getByLabel('Address with its key, whole').fill('rtmp://relay.example/live/our key');
  await expect(page.getByText('There is a space in this address.')).toBeVisible();
  await page.getByLabel('Address with its key, whole').fill('rtmp://relay.example/live/our-key');
  await expect(page.getByLabel('The address, taken apart')).toContainText('relay.example');
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
