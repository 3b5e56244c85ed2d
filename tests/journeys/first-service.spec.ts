import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from '@playwright/test';
import { access } from './house.js';

test('a new house is led to its first service; each step is found to be done by itself', async ({ page }) => {
  const sib = access.people.find(({ email }) => email.startsWith('sib@'))!;
  await page.goto(access.console);
  await page.getByLabel('Email').fill(sib.email);
  await page.getByLabel('Password').fill(sib.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  const first = page.getByRole('region', { name: 'The first service' });
  const todo = first.getByRole('heading', { name: /, still to do$/ });
  await expect(todo).toHaveCount(5);

  await first.getByRole('link', { name: 'Set name, logo and colours' }).click();
  await page.getByLabel('House rules of the chat').fill('Let others finish.');
  await page.getByRole('button', { name: 'Save the house' }).click();
  await expect(page.getByText('The house has been saved.')).toBeVisible();
  await page.goto(access.console);
  await expect(todo).toHaveCount(4);

  await first.getByRole('button', { name: 'Plan an event' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Title').fill('The first reading');
  await dialog.getByRole('button', { name: 'Plan the event' }).click();
  await expect(dialog).toBeHidden();
  await page.goto(access.console);
  await expect(todo).toHaveCount(3);

  // Their website: the line is copied into a page of it, and the page is opened.
  const line = await first.getByLabel('The line for your website').inputValue();
  const site = createServer((_request, response) => {
    response.setHeader('content-type', 'text/html');
    response.end(`<title>Ours</title><body>${line}`);
  }).listen(0, '127.0.0.1');
  await once(site, 'listening');
  const host = `localhost:${(site.address() as AddressInfo).port}`;
  await page.goto(`http://${host}/`);
  await expect(page.frameLocator('iframe').getByText('This page starts by itself.')).toBeVisible();
  await page.goto(access.console);
  await expect(first.getByText(`Seen on ${host}.`)).toBeVisible();
  site.closeAllConnections();
  site.close();
  await first.getByRole('link', { name: 'Add a source' }).click();
  await expect(page.getByRole('heading', { name: 'Sources' })).toBeVisible();
});

test('on a phone the strip is one line and every room is whole', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const owner = access.people.find(({ role }) => role === 'owner')!;
  await page.goto(access.console);
  await page.getByLabel('Email').fill(owner.email);
  await page.getByLabel('Password').fill(owner.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  const rooms = page.getByRole('button', { name: 'Rooms' });
  for (const name of ['Sources', 'Where it goes', 'Archive', 'Our house', 'Week']) {
    await rooms.click();
    await page.getByRole('navigation', { name: 'Rooms' }).getByRole('link', { name }).click();
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  }
  await page
    .getByRole('banner')
    .getByRole('link', { name: /^Harbour Blessing\s?(on air \d:\d\d|a fault|\d+ faults)$/ })
    .click();
  await expect(page.getByRole('region', { name: 'Chat' })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  // The desk's own ground reaches to the end of the page.
  const header = (await page.getByRole('banner').boundingBox())!;
  expect(header.height).toBeLessThan(80);
});
