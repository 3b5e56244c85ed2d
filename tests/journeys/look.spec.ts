import { expect, type Page, test } from '@playwright/test';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import {
  access,
  api,
  eventOf,
  onAir,
  expectAccessible,
  expectAccessibleInBothLights,
  signIn,
} from './house.js';
import { addSource, own, planEvent } from './own-event.js';

/** Chooses a colour, as the browser's own chooser would. */
async function choose(page: Page, part: string, colour: string): Promise<void> {
  await page.getByRole('textbox', { name: `${part} #` }).fill(colour);
}

const look = (page: Page, variable: string): Promise<string> =>
  page.evaluate((name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim(), variable);

test('a poor look is led to one that can be read, and the page wears it at once', async ({
  page,
  browser,
}) => {
  const source = await addSource(own('Hall desk'));
  const event = await planEvent(own('Choir practice'), source.id);
  const viewer = await (await browser.newContext()).newPage();
  await viewer.goto(`${access.console}/watch/${event.slug}`);
  await expect(viewer.getByRole('heading', { level: 1, name: event.title })).toBeVisible();

  await signIn(page);
  await page.goto(`${access.console}/events/${event.id}/plan`);
  await page.getByRole('link', { name: 'Change the look' }).click();
  await expect(page.getByRole('heading', { name: `The look of ${event.title}` })).toBeVisible();
  const seen = page.frameLocator('iframe');
  await expect(seen.getByRole('heading', { level: 1, name: event.title })).toBeVisible();
  await expect(page.getByText('Everything can be read.')).toBeVisible();

  await test.step('the real page shows it before it is kept, in any state', async () => {
    await page.getByLabel('Seen').selectOption({ label: 'with its doors open' });
    await expect(seen.getByText('12', { exact: true })).toBeVisible();
    await seen.getByRole('heading', { level: 1 }).click();
    await expect(page.getByRole('textbox', { name: 'Words #' })).toBeFocused();
    // Nothing leads away from here.
    await seen.getByRole('button', { name: 'Larger text' }).click();
    await expect(page.getByRole('textbox', { name: 'Links and headings #' })).toBeFocused();
    await page.getByLabel('Width').selectOption({ label: 'Phone' });
    await choose(page, 'Words', '#aab0b8');
    await expect(seen.locator('body')).toHaveCSS('color', 'rgb(170, 176, 184)');
    expect(await look(viewer, '--ink')).not.toBe('#aab0b8');
  });

  await test.step('a logo is refused with the reason, then taken, and stands on the page', async () => {
    const choose = (svg: string) =>
      page.getByLabel('Choose a picture: The logo as it is now').setInputFiles({
        name: 'logo.svg',
        mimeType: 'image/svg+xml',
        buffer: Buffer.from(svg),
      });
    await choose('<svg><script>alert(1)</script></svg>');
    await expect(page.getByText('something that does not only draw: <script>')).toBeVisible();
    await choose('<svg viewBox="0 0 9 9"><circle cx="4" cy="4" r="4" fill="#24405c"/></svg>');
    await expect(page.getByRole('img', { name: 'The logo as it is now' })).toBeVisible();
    const drawn = seen.locator('.public-logo');
    await expect
      .poll(() => drawn.evaluate((image) => (image as HTMLImageElement).naturalWidth))
      .toBeGreaterThan(0);
    await page.getByRole('button', { name: 'Logo: from the house again' }).click();
  });

  await test.step('in the dark it is dark, unless the house wants it as by day; and so is the embed', async () => {
    const ground = (): Promise<number> =>
      seen.locator('body').evaluate((body) => Number(/\d+/.exec(getComputedStyle(body).backgroundColor)![0]));
    await page.getByLabel('The device is set to').selectOption({ label: 'dark' });
    await expect.poll(ground).toBeLessThan(60);
    await page.getByLabel('Shown as').selectOption({ label: 'an embed on a website' });
    await expect(seen.getByRole('timer')).toBeVisible();
    await page.getByLabel('Shown as').selectOption({ label: 'a page' });
    await expect(seen.getByRole('heading', { level: 1, name: event.title })).toBeVisible();
    await page.getByLabel('Dark where somebody’s device is').uncheck();
    await expect.poll(ground).toBeGreaterThan(200);
    await page.getByRole('button', { name: 'Dark where somebody’s device is: as usual again' }).click();
    await page.getByLabel('The device is set to').selectOption({ label: 'light' });
    await page.getByLabel('Seen').selectOption({ label: 'with its doors open' });
    await page.getByLabel('Width').selectOption({ label: 'Phone' });
  });

  await test.step('a picture behind the page is veiled until everything can be read', async () => {
    await choose(page, 'Words', '#16241f');
    const halves = await page.evaluate(() => {
      const canvas = Object.assign(document.createElement('canvas'), { width: 600, height: 400 });
      const pen = canvas.getContext('2d')!;
      pen.fillRect(0, 0, 300, 400);
      pen.fillStyle = 'white';
      pen.fillRect(300, 0, 300, 400);
      return canvas.toDataURL('image/png').split(',')[1]!;
    });
    const picture = page.getByLabel('Choose a picture for behind the page');
    await picture.setInputFiles({ name: 'a.txt', mimeType: 'image/png', buffer: Buffer.from('no picture') });
    await expect(page.getByText('This is no picture that we can read.', { exact: false })).toBeVisible();
    await picture.setInputFiles({
      name: 'a.png',
      mimeType: 'image/png',
      buffer: Buffer.from(halves, 'base64'),
    });
    await expect(seen.locator('html')).toHaveAttribute('data-picture', 'cover');
    await page.getByLabel('Veil of the page’s colour').fill('10');
    await expect(page.getByText('Too faint on the page', { exact: false }).first()).toBeVisible();
    const veils = page.getByRole('button', { name: /^Veil it to/ });
    while ((await veils.count()) > 0) await veils.last().click();
    await expect(page.getByText('Everything can be read.')).toBeVisible();
    await page.getByRole('button', { name: 'Have none' }).click();
    await expect(seen.locator('html')).toHaveAttribute('data-picture', 'none');
    await page.getByRole('button', { name: 'A picture behind the page: as usual again' }).click();
    await choose(page, 'Words', '#aab0b8');
  });

  await test.step('what stands beside the picture is chosen, and comes in that order', async () => {
    await page.getByLabel('Your own words').check();
    await page
      .getByRole('textbox', { name: 'Your own words' })
      .fill('Tea afterwards, see https://quay.example/tea.');
    await page.getByLabel('A button to share the page').check();
    await page.getByRole('button', { name: 'Your own words: further up' }).click();
    await expect(seen.getByRole('link', { name: 'quay.example/tea' })).toHaveAttribute(
      'href',
      'https://quay.example/tea',
    );
    const [words, share] = await Promise.all(
      [seen.getByText('Tea afterwards'), seen.getByRole('button', { name: 'Share this page' })].map(
        async (part) => (await part.boundingBox())!.y,
      ),
    );
    expect(words).toBeLessThan(share!);
    await page.getByRole('button', { name: 'Beside the picture: as usual again' }).click();
  });

  await test.step('what cannot be read is said, and what is offered can be', async () => {
    await expect(page.getByText('Too faint on the page', { exact: false })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Keep it all the same' })).toBeVisible();
    await page.getByRole('button', { name: /^Take #/ }).click();
    await expect(page.getByText('Everything can be read.')).toBeVisible();
    // Dark page, light sheet: nothing shows on both until they are alike.
    await choose(page, 'The page', '#1c2a3a');
    await page.getByRole('button', { name: 'Make the sheet like the page' }).first().click();
    while ((await page.getByRole('button', { name: /^Take #/ }).count()) > 0)
      await page
        .getByRole('button', { name: /^Take #/ })
        .first()
        .click();
    await expect(page.getByText('Everything can be read.')).toBeVisible();
    await expectAccessibleInBothLights(page);
  });

  await test.step('kept, it is what viewers have; taken back, it is as before', async () => {
    await page.getByLabel('Your own line').fill('Two Quay Row, by the lamp');
    await page.getByRole('button', { name: 'Keep the look' }).click();
    await expect(viewer.getByText('Two Quay Row, by the lamp')).toBeVisible();
    expect(await look(viewer, '--ground')).toBe('#1c2a3a');
    await expectAccessible(viewer);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(viewer.getByText('Two Quay Row, by the lamp')).toBeHidden();
    const { own: said } = await api<{ own: object }>(`/looks/event/${event.id}`);
    expect(said).toEqual({});
  });
});

test('somebody who tries a look out while an event is on air is no viewer of it', async ({ page }) => {
  await signIn(page);
  const { playback } = await api<PublicEvent>(`/public/events/${onAir.slug}`);
  const asked: string[] = [];
  page.on('request', (request) => asked.push(request.url()));
  await page.goto(`${access.console}/look/event/${(await eventOf(onAir.slug)).id}`);
  const player = page.frameLocator('iframe').getByRole('group', { name: /Player/ });
  await expect(player).toHaveAttribute('data-state', 'playing');
  const folderOf = (address: string): string => address.replace(/[^/]*$/, '');
  expect(asked.filter((url) => url.startsWith(folderOf(playback!.hls)))).toEqual([]);
});

test('the house’s look is its owners’ alone, and comes down to its channels', async ({ page }) => {
  await signIn(page);
  await page.goto(`${access.console}/look/house`);
  await expect(page.getByText('Only an owner can change the look of the house.')).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Words #' })).toBeDisabled();
  await page.goto(`${access.console}/house/channels`);
  await page.getByRole('button', { name: 'Change, embed, subscribe' }).first().click();
  await page.getByRole('link', { name: 'Change the look' }).click();
  await expect(page.getByText('from the house').first()).toBeVisible();
});
