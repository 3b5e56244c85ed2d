import { once } from 'node:events';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from '@playwright/test';
import { access, api, expectAccessible, signIn } from './house.js';
import { addSource, own, planEvent } from './own-event.js';

/** A website of the house's own, which shows what is put into it. */
class Website {
  body = '';
  policy = '';
  readonly #server: Server = createServer((_request, response) => {
    if (this.policy) response.setHeader('content-security-policy', this.policy);
    response.setHeader('content-type', 'text/html');
    response.end(`<!doctype html><title>Ours</title><body><h1>Our chapel</h1>${this.body}`);
  });

  async open(): Promise<string> {
    this.#server.listen(0, '127.0.0.1');
    await once(this.#server, 'listening');
    return `http://localhost:${(this.#server.address() as AddressInfo).port}/live`;
  }

  close(): void {
    this.#server.closeAllConnections();
    this.#server.close();
  }
}

test('a webmaster puts an event on a website, is told what keeps it from showing, and refuses another website', async ({
  page,
  browser,
}) => {
  const website = new Website();
  const address = await website.open();
  const source = await addSource(own('Lychgate'));
  const event = await planEvent(own('Candlemas'), source.id);
  await signIn(page);
  await page.goto(`${access.console}/events/${event.id}/plan`);
  await page.getByRole('link', { name: 'On your website' }).click();
  const look = async (): Promise<void> => {
    await page.getByLabel('Address of your page').fill(address);
    await page.getByRole('button', { name: 'Have a look' }).click();
  };
  const check = page.getByRole('region', { name: 'Does it show?' });

  await test.step('the line is made as wished, and its preview shows exactly that', async () => {
    const preview = page.frameLocator('iframe');
    await expect(preview.getByRole('timer')).toBeVisible();
    await page.getByLabel('its title').check();
    await expect(preview.getByRole('heading', { level: 1, name: event.title })).toBeVisible();
    await page.getByLabel('What shows').selectOption({ label: 'The countdown alone' });
    await page.getByLabel('Width').selectOption({ label: 'a fixed width' });
    await page.getByLabel('Pixels').fill('200');
    await page.getByLabel('Pixels').blur();
    const frame = page.locator('iframe');
    await frame.scrollIntoViewIfNeeded();
    await expect(preview.getByRole('link', { name: 'Open the page' })).toBeInViewport({ ratio: 1 });
    expect((await frame.boundingBox())!.width).toBeLessThanOrEqual(202);
    await expectAccessible(page);
  });
  const line = await page.getByLabel(/^One line for your page/).inputValue();
  expect(line).toContain('data-only="countdown" data-width="200"');

  await test.step('it is not there yet', async () => {
    await look();
    await expect(check.getByText('It is not there.')).toBeVisible();
  });

  await test.step('the website forbids it, and what to add to its policy is said', async () => {
    website.body = line;
    website.policy = "default-src 'self'";
    await look();
    await expect(check.getByText('It is there, but your website forbids it.')).toBeVisible();
    await expect(check.getByText(`has to add ${access.console} to “default-src”`)).toBeVisible();
  });

  await test.step('it shows, for visitors too', async () => {
    website.policy = '';
    await look();
    await expect(check.getByText('It shows.')).toBeVisible();
    const visitor = await (await browser.newContext()).newPage();
    await visitor.goto(address);
    await expect(visitor.frameLocator('iframe').getByRole('timer')).toBeVisible();
    await visitor.context().close();
    await page.reload();
    const list = page.getByRole('region', { name: 'Where it is shown' });
    await expect(list.getByText(/last opened/)).toBeVisible();
    await expectAccessible(page);
  });

  await test.step('one step refuses the website; its visitors are told', async () => {
    await page.getByRole('button', { name: /^Do not show it on localhost/ }).click();
    await expect(page.getByRole('button', { name: /^Let it show on localhost/ })).toBeVisible();
    const visitor = await (await browser.newContext()).newPage();
    await visitor.goto(address);
    const embed = visitor.frameLocator('iframe');
    website.body = `<iframe src="${access.console}/embed/${event.slug}" style="width:480px;height:380px"></iframe>`;
    await visitor.reload();
    await expect(
      embed.getByRole('heading', { name: 'This event is not shown on this website.' }),
    ).toBeVisible();
    await visitor.context().close();
  });

  await test.step('the sheet for the notice board has its code and its address', async () => {
    await page.getByRole('link', { name: 'Sheet to print' }).click();
    await expect(page.getByRole('img', { name: `Code that leads to ${event.title}` })).toBeVisible();
    await expect(page.getByText(`/watch/${event.slug}`)).toBeVisible();
  });
  website.close();
});

test('an embed shows sheet and chat with the picture, and a series’ address the date that comes next', async ({
  page,
}) => {
  const [series] = (await api<{ items: { id: string; slug: string; title: string }[] }>('/series')).items;
  await signIn(page);
  await page.goto(`${access.console}/websites/series/${series!.id}`);
  await expect(page.getByText('It always shows the date that is on, or the next one.')).toBeVisible();
  const website = new Website();
  const address = await website.open();
  website.body = `<script async src="${access.console}/embed.js" data-event="${access.events.find(({ state }) => state === 'air')!.slug}" data-with="title,sheet,chat"></script>`;
  await page.goto(address);
  const embed = page.frameLocator('iframe');
  await expect(embed.getByRole('button', { name: 'Turn the sound on' })).toBeVisible();
  await embed.getByRole('button', { name: /^Chat/ }).click();
  await expect(embed.getByLabel('Your name')).toBeVisible();
  await expect(embed.getByRole('button', { name: 'Bell and welcome', exact: true })).toBeVisible();
  // The line fits the frame to all of it.
  await expect.poll(async () => (await page.locator('iframe').boundingBox())!.height).toBeGreaterThan(700);
  website.close();
});
