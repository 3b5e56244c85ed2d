import { expect, test } from '@playwright/test';
import { access, eventOf, onAir, signIn } from './house.js';

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
