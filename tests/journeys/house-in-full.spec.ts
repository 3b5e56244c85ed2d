import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { access, api, onAir, signIn, standin } from './house.js';

const events = async (): Promise<{ id: string; slug: string; startsAtMs: number }[]> =>
  (await api<{ items: { id: string; slug: string; startsAtMs: number }[] }>('/events?limit=200')).items;
const eventOf = async (slug: string) => (await events()).find((event) => event.slug === slug)!;

async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(
    violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.target.join(' ')).join(', ')}`),
  ).toEqual([]);
}

for (const light of ['day', 'booth'] as const) {
  test(`axe finds nothing in Our house, the archive’s editor and the bin by ${light} light, with motion reduced`, async ({
    page,
  }) => {
    await page.emulateMedia({ reducedMotion: 'reduce' });
    await page.addInitScript((chosen) => localStorage.setItem('heliphon.light', chosen), light);
    await signIn(page, 'owner');
    const rooms: [string, string][] = [
      ['/house', 'Invite somebody'],
      ['/house/access', 'Second factor'],
      ['/house/look', 'House rules of the chat'],
      ['/house/record', 'Find in what was changed'],
    ];
    for (const [path, words] of rooms) {
      await page.goto(access.console + path);
      await expect(page.getByText(words).first()).toBeVisible();
      await expectAccessible(page);
    }
    await page.goto(`${access.console}/archive`);
    await page.getByRole('button', { name: 'Change' }).first().click();
    await expect(page.getByRole('button', { name: 'Make this frame the poster' })).toBeVisible();
    await expectAccessible(page);
  });
}

test('somebody is invited by letter, joins, and may do what their role says', async ({ page, browser }) => {
  await signIn(page, 'owner');
  await page.goto(`${access.console}/house`);
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  await page.getByLabel('Name').fill('Brannoc Pell');
  await page.getByLabel('Email').fill('brannoc@lantern-quay.example');
  await page.getByLabel('Moderator').check();
  await page.getByLabel('Operator').uncheck();
  await page.getByRole('button', { name: 'Send the invitation' }).click();
  await expect(page.getByText('invited as moderator')).toBeVisible();
  await expect
    .poll(async () => (await standin<{ to: string }[]>('/mail/letters')).at(-1)?.to)
    .toContain('brannoc');
  const [letter] = (await standin<{ text: string }[]>('/mail/letters')).slice(-1);
  const guest = await (await browser.newContext()).newPage();
  await guest.goto(/https?:\S+\/welcome\/\S+/.exec(letter!.text)![0]);
  await expect(guest.getByRole('heading', { name: 'Welcome to Lantern Quay Commons' })).toBeVisible();
  await guest.getByLabel('Password').fill('a boat and four oars');
  await guest.getByRole('button', { name: 'Join the house' }).click();
  await expect(guest.getByRole('navigation', { name: 'Rooms' })).toBeVisible();
  await expect(guest.getByRole('button', { name: 'Plan an event' })).toBeHidden();
  await guest.context().close();
});

test('a change in the record is taken back', async ({ page }) => {
  await signIn(page, 'owner');
  await page.goto(`${access.console}/house/look`);
  const rules = page.getByLabel('House rules of the chat');
  const before = await rules.inputValue();
  await rules.fill('Only sea shanties.');
  await page.getByRole('button', { name: 'Save the house' }).click();
  await expect(page.getByText('The house is saved.')).toBeVisible();
  await page.goto(`${access.console}/house/record`);
  await page.getByLabel('Find in what was changed').fill('Only sea shanties');
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(page.getByText('was taken back').first()).toBeVisible();
  await page.goto(`${access.console}/house/look`);
  await expect(page.getByLabel('House rules of the chat')).toHaveValue(before);
});

test('an event is dragged to another hour and day, taken back, and moved by keys', async ({ page }) => {
  await signIn(page);
  const { id, startsAtMs } = await eventOf('gig-rowing-regatta-finals');
  const startsNow = async (): Promise<number> =>
    (await events()).find((event) => event.id === id)!.startsAtMs;
  const link = page.getByRole('link', { name: /Gig-rowing Regatta finals/ }).last();
  await expect(link).toBeVisible();
  const bar = link.locator('xpath=..').locator('.cursor-grab').first();
  const box = (await bar.boundingBox())!;
  const sheet = (await page.locator('[data-rota-hours]').first().boundingBox())!;
  await page.mouse.move(box.x + 20, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 10, { steps: 4 });
  await page.mouse.move(box.x + 20 - (sheet.width / 17) * 2, box.y + 8, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText(/“Gig-rowing Regatta finals” is now/)).toBeVisible();
  expect(await startsNow()).toBe(startsAtMs - 2 * 3_600_000);
  const isBack = async (): Promise<boolean> => Math.abs((await bar.boundingBox())!.x - box.x) < 2;
  await expect.poll(isBack).toBe(false);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(startsNow).toBe(startsAtMs);
  await expect.poll(isBack).toBe(true);
  await link.focus();
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(startsNow).toBe(startsAtMs + 900_000);
  await page.keyboard.press('Alt+ArrowLeft');
  await expect.poll(startsNow).toBe(startsAtMs);
});

test('the palette reaches a room and an event by name, and ? shows the keys', async ({ page }) => {
  await signIn(page);
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Go to, or do …').fill('archive');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Archive' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Go to, or do …').fill('shanty quiz');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: /Shanty Quiz/ })).toBeVisible();
  await page.locator('main').focus();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
});

test('a recording is renamed, gets a frame as its poster, lies in the bin and comes back', async ({
  page,
}) => {
  await signIn(page);
  await page.goto(`${access.console}/archive`);
  const kept = page.getByRole('main').getByRole('listitem'); // what is told in passing is a list too
  const row = kept.filter({ hasText: 'Shanty Quiz, first round' });
  await row.getByRole('button', { name: 'Change' }).click();
  await page.getByLabel('Title of the recording').fill('Shanty Quiz, the first round');
  await page.getByRole('button', { name: 'Save the words' }).click();
  await expect(page.getByRole('link', { name: 'Shanty Quiz, the first round' })).toBeVisible();
  const named = kept.filter({ hasText: 'Shanty Quiz, the first round' });
  const posters = named.locator('img');
  const before = (await posters.count()) > 0 ? await posters.first().getAttribute('src') : null;
  await page.getByRole('button', { name: 'Make this frame the poster' }).click();
  await expect(posters.first()).toHaveAttribute('src', /posters/);
  await expect.poll(() => posters.first().getAttribute('src')).not.toBe(before);
  await page.getByRole('button', { name: 'Put it in the bin' }).click();
  await expect(named).toHaveCount(0);
  await page.getByRole('button', { name: 'Look into the bin' }).click();
  await page.getByRole('button', { name: 'Put it back' }).click();
  await page.getByRole('button', { name: 'Back to the archive' }).click();
  await expect(named).toHaveCount(1);
  const mp4 = await named
    .getByRole('button', { name: 'Change' })
    .click()
    .then(() => page.getByRole('link', { name: 'Download as MP4' }).getAttribute('href'));
  const head = await fetch(mp4!, { method: 'HEAD' });
  expect([head.status, head.headers.get('content-type')]).toEqual([200, 'video/mp4']);
  await page.getByLabel('Title of the recording').fill('Shanty Quiz, first round');
  await page.getByRole('button', { name: 'Save the words' }).click();
  await expect(row).toHaveCount(1);
});

test('two people change the same words: both versions stand side by side until one is chosen', async ({
  page,
}) => {
  await signIn(page);
  const { id } = await eventOf('bell-ringers-quarter-peal');
  await page.goto(`${access.console}/events/${id}/plan`);
  const words = page.getByLabel('What people should know');
  await expect(words).toBeVisible();
  let isFirst = true;
  await page.route(`**/api/events/${id}`, async (route) => {
    if (route.request().method() === 'PATCH' && isFirst) {
      isFirst = false;
      // Somebody else is quicker by a moment.
      const { version } = await api<{ version: number }>(`/events/${id}`);
      const body = JSON.stringify({ description: 'Theirs: bring earplugs' });
      await api(`/events/${id}`, { method: 'PATCH', body, headers: { 'if-match': `"${version}"` } });
    }
    await route.continue();
  });
  await words.fill('Ours: bring a cushion');
  const both = page.getByRole('alert', { name: 'Two versions' });
  await expect(both).toContainText('Theirs: bring earplugs');
  await expect(both).toContainText('Ours: bring a cushion');
  await both.getByRole('button', { name: 'Save yours over theirs' }).click();
  await expect
    .poll(async () => (await api<{ description: string }>(`/events/${id}`)).description)
    .toBe('Ours: bring a cushion');
});

test('the chat in its own window works at 390 px: who is here, what they said, hidden and put back', async ({
  page,
  browser,
}) => {
  const guest = await (await browser.newContext()).newPage();
  await guest.goto(onAir.watch);
  await guest.getByRole('button', { name: /^Chat/ }).click();
  await guest.getByLabel('Your name').fill('Loud Larry');
  await guest.getByLabel(/I keep to the house rules/).check();
  await guest.getByRole('button', { name: 'Join the chat' }).click();
  await guest.getByLabel(/Say something/).fill('Buy my boat');
  await guest.getByRole('button', { name: 'Send' }).click();

  await signIn(page, 'moderator');
  await page.setViewportSize({ width: 390, height: 844 });
  const { id } = await eventOf(onAir.slug);
  await page.goto(`${access.console}/events/${id}/chat`);
  await expect(page.getByText('Buy my boat')).toBeVisible();
  await page.getByRole('button', { name: 'Who is here' }).click();
  await page.getByRole('button', { name: /^Loud Larry said/ }).click();
  await expect(page.getByRole('list', { name: 'Who is here' }).getByText('Buy my boat')).toBeVisible();
  await page.getByRole('button', { name: 'hide Loud Larry' }).click();
  await expect(guest.getByText('Buy my boat')).toBeHidden();
  await page.getByRole('button', { name: 'put back Loud Larry' }).click();
  await expect(guest.getByRole('list', { name: 'Messages' }).getByText('Buy my boat')).toBeVisible();
  const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  expect(overflow).toBeLessThanOrEqual(0);
  await guest.context().close();
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

test('a source’s key comes as codes and as a sheet, a place’s key only on request', async ({ page }) => {
  await signIn(page);
  await page.goto(`${access.console}/sources`);
  await page.getByRole('button', { name: 'Address and key' }).first().click();
  await page.getByRole('button', { name: 'Show codes for a camera' }).click();
  await expect(page.getByAltText('Code of the key')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Connections so far' })).toBeVisible();
  await page.goto(`${access.console}/places`);
  await page.getByRole('button', { name: 'Change' }).first().click();
  await page.getByRole('button', { name: 'Show address and key' }).click();
  await expect(page.getByLabel('Address with its key', { exact: true })).toHaveValue(/^rtmp:\/\//);
});

test('a second factor is set up from its secret; then a code is asked for, and a recovery code lets in once', async ({
  page,
  browser,
}) => {
  await signIn(page, 'treasurer');
  await page.goto(`${access.console}/house/access`);
  await page.getByRole('button', { name: 'Set up a second factor' }).click();
  const secret = await page.getByLabel('Secret').inputValue();
  await page.getByLabel('Code that it shows now').fill('000000');
  await page.getByRole('button', { name: 'Switch it on' }).click();
  await expect(page.getByText(/is not right|not the right/)).toBeVisible();
  await page
    .getByLabel('Code that it shows now')
    .fill(new TOTP({ secret: Secret.fromBase32(secret) }).generate());
  await page.getByRole('button', { name: 'Switch it on' }).click();
  const codes = page.getByRole('status').getByRole('listitem');
  const recovery = await codes.first().innerText();
  await page.getByRole('button', { name: 'I have written them down' }).click();
  await expect(page.getByText('It is on: signing in asks for a code.')).toBeVisible();

  const person = access.people.find(({ role }) => role === 'treasurer')!;
  for (const isFirst of [true, false]) {
    const elsewhere = await (await browser.newContext()).newPage();
    await elsewhere.goto(access.console);
    await elsewhere.getByLabel('Email').fill(person.email);
    await elsewhere.getByLabel('Password').fill(person.password);
    await elsewhere.getByRole('button', { name: 'Sign in' }).click();
    await elsewhere.getByLabel('Code').fill(recovery.toUpperCase());
    await elsewhere.getByRole('button', { name: 'Sign in' }).click();
    if (isFirst) await expect(elsewhere.getByRole('navigation', { name: 'Rooms' })).toBeVisible();
    else await expect(elsewhere.getByRole('alert')).toBeVisible();
    await elsewhere.context().close();
  }
});
