import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { type Browser, expect, type Page, test } from '@playwright/test';
import { access, api, expectAccessible, signIn, standin } from './house.js';
import { addSource, end, type EventView, goOnAir, own, planEvent, type SourceView } from './own-event.js';
import { beginWatching, playsOn, whatWasSeen } from './viewer-watch.js';

const PHONE = { width: 390, height: 844 };

/** On air with a picture of its own. */
async function onAirAlone(page: Page, title: string): Promise<{ event: EventView; source: SourceView }> {
  const source = await addSource(own('Vestry'));
  const event = await planEvent(own(title), source.id);
  const key = await api<object>(`/sources/${source.id}/key`);
  await standin(`/encoders/${encodeURIComponent(source.name)}/start`, key);
  await goOnAir(page, event);
  return { event, source };
}
async function over({ event, source }: { event: EventView; source: SourceView }): Promise<void> {
  await end(event);
  await standin(`/encoders/${encodeURIComponent(source.name)}/stop`, {});
}
/** Somebody who has never been here. */
const visitor = async (browser: Browser, viewport = PHONE): Promise<Page> =>
  (await browser.newContext({ viewport })).newPage();
const isPlaying = (page: Page) =>
  expect(page.getByRole('group', { name: /Player/ })).toHaveAttribute('data-state', 'playing');

/** What stands below moves up when the bar with the button goes: nothing is pressed before that. */
async function save(page: Page): Promise<void> {
  const button = page.getByRole('button', { name: 'Save who may watch' });
  await button.click();
  await expect(button).toBeHidden();
}

test('a viewer on a phone watches by the password, with the chat open and the picture in sight', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const shown = await onAirAlone(page, 'Members’ meeting');
  const { event } = shown;

  await test.step('the producer sets a password, and sees what others see', async () => {
    await page.goto(`${access.console}/events/${event.id}/plan`);
    await page.getByRole('link', { name: 'Change who may watch' }).click();
    await page
      .getByRole('group', { name: 'While it is live' })
      .getByLabel('Anybody with the password')
      .check();
    await save(page);
    await expect(page.getByText('There is no password yet: nobody can watch.')).toBeVisible();
    await page.getByLabel('New password').fill('Tide and lamp');
    await page.getByRole('button', { name: 'Set the password' }).click();
    await expect(page.getByLabel('The password to tell people')).toHaveValue('Tide and lamp');
    const seen = page.frameLocator('iframe');
    await expect(seen.getByRole('heading', { name: 'This event has a password.' })).toBeVisible();
    await expectAccessible(page);
    await page.getByLabel('who knows the password').check();
    await expect(seen.getByRole('group', { name: /Player/ })).toBeVisible();
  });

  const viewer = await visitor(browser);
  await test.step('a wrong one is said to be wrong; the right one opens, however it is typed', async () => {
    await viewer.goto(`${access.console}/watch/${event.slug}`);
    await expectAccessible(viewer);
    await viewer.getByLabel('Password').fill('tide');
    await viewer.getByRole('button', { name: 'Watch' }).click();
    await expect(viewer.getByText('That is not the password.')).toBeVisible();
    await viewer.getByLabel('Password').fill('tide and  LAMP ');
    await viewer.getByRole('button', { name: 'Watch' }).click();
    await isPlaying(viewer);
  });

  await test.step('the chat opens, and what is said in it arrives', async () => {
    await viewer.getByRole('button', { name: /^Chat/ }).click();
    await viewer.getByLabel('Your name').fill('Ada');
    await viewer.getByLabel(/I keep to the house rules/).check();
    await viewer.getByRole('button', { name: 'Join the chat' }).click();
    await viewer.getByLabel('Say something as Ada').fill('Good evening to all members');
    await viewer.getByRole('button', { name: 'Send' }).click();
    await expect(viewer.getByRole('listitem').filter({ hasText: 'Good evening' })).toBeVisible();
    await expect(viewer.locator('video')).toBeInViewport({ ratio: 0.9 });
  });

  await test.step('this device is known again; another is asked', async () => {
    await viewer.reload();
    await isPlaying(viewer);
    const other = await visitor(browser);
    await other.goto(`${access.console}/watch/${event.slug}`);
    await expect(other.getByLabel('Password')).toBeVisible();
    await other.context().close();
  });

  await test.step('another password ends it for all who came in by the first, within a minute', async () => {
    await page.getByLabel('New password').fill('Something else');
    await page.getByRole('button', { name: 'Change the password' }).click();
    await expect(viewer.getByLabel('Password')).toBeVisible();
  });
  await viewer.context().close();
  await over(shown);
});

test('somebody invited is withdrawn while watching, and is out within a minute; another watches on', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const shown = await onAirAlone(page, 'Organ by candlelight');
  const path = `/watching/event/${shown.event.id}`;
  await page.goto(access.console + path);
  await page.getByRole('group', { name: 'While it is live' }).getByLabel('Invited people').check();
  await save(page);
  await page.getByLabel('Names and email addresses').fill('Ada Fenn\nBram Holt <bram@quay.example>\nnobody@');
  await page.getByRole('button', { name: 'Invite them' }).click();
  await expect(page.getByText('2 people are invited now.')).toBeVisible();
  await expect(page.getByLabel('Names and email addresses')).toHaveValue('nobody@');
  await expectAccessible(page);

  const { items } = await api<{ items: { id: string; name: string }[] }>(`${path}/invited`);
  const comes = async (name: string): Promise<Page> => {
    const { id } = items.find((invited) => invited.name === name)!;
    const { url } = await api<{ url: string }>(`${path}/invited/${id}/link`);
    const viewer = await visitor(browser);
    await viewer.goto(url);
    await isPlaying(viewer);
    // What lets them in does not stay where it could be passed on.
    expect(viewer.url()).toBe(`${access.console}/watch/${shown.event.slug}`);
    return viewer;
  };
  const [ada, bram] = [await comes('Ada Fenn'), await comes('Bram Holt')];
  const address = await ada.evaluate(() =>
    performance
      .getEntriesByType('resource')
      .map(({ name }) => name)
      .findLast((name) => name.includes('/live.m3u8'))!,
  );
  expect((await fetch(address)).status).toBe(200);

  await beginWatching(bram);
  await page.getByRole('button', { name: 'Withdraw the invitation of Ada Fenn' }).click();
  await expect(ada.getByText('This event is for people who have been invited.')).toBeVisible();
  // An address that was copied is good for no longer than that.
  await expect.poll(async () => (await fetch(address)).status).toBe(403);
  await isPlaying(bram);
  // Longer than what was loaded would last: he has got the next grant, and noticed nothing.
  await playsOn(bram, 12);
  expect((await whatWasSeen(bram)).setBacks).toBe(0);
  await ada.context().close();
  await bram.context().close();
  await over(shown);
});

test('an embed on a website that may not show it says where it may', async ({ page }) => {
  const source = await addSource(own('Crypt'));
  const event = await planEvent(own('Vigil'), source.id);
  const site = createServer((_request, response) => {
    response.setHeader('content-type', 'text/html');
    response.end(
      `<title>Ours</title><body><script async src="${access.console}/embed.js" data-event="${event.slug}"></script>`,
    );
  }).listen(0, '127.0.0.1');
  await once(site, 'listening');
  const host = `localhost:${(site.address() as AddressInfo).port}`;
  const embed = page.frameLocator('iframe');
  const allow = async (hosts: string[]): Promise<void> => {
    const { version } = await api<{ version: number }>(`/watching/event/${event.id}`);
    await api(`/watching/event/${event.id}`, {
      method: 'PUT',
      headers: { 'if-match': `"${version}"` },
      body: JSON.stringify({ own: { sites: { kind: 'only', hosts } } }),
    });
  };
  await allow(['quay.example']);
  await page.goto(`http://${host}/`);
  await expect(embed.getByRole('heading', { name: 'This event can be watched here:' })).toBeVisible();
  await expect(embed.getByRole('link', { name: 'quay.example' })).toBeVisible();

  await allow(['quay.example', host]);
  await page.reload();
  await expect(embed.getByRole('timer')).toBeVisible();
  // Its own page leads there.
  await page.goto(`${access.console}/watch/${event.slug}`);
  await expect(page.getByRole('link', { name: host })).toBeVisible();
  await page.goto('about:blank');
  site.closeAllConnections();
  site.close();
});
