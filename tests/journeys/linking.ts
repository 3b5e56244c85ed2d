import { expect, type Locator, type Page } from '@playwright/test';
import { access } from './house.js';

/** The window in which a platform asks Ines for her consent. */
export async function consentOf(page: Page, button: string, within: Page | Locator = page): Promise<Page> {
  const opened = page.waitForEvent('popup');
  await within.getByRole('button', { name: button }).click();
  const consent = await opened;
  await consent.getByRole('link', { name: 'Ines Tarrow' }).click();
  return consent;
}

/** She gives it, and its window closes. */
export async function allow(consent: Page): Promise<void> {
  const closed = consent.waitForEvent('close');
  await consent.getByRole('button', { name: 'Allow', exact: true }).click();
  await closed;
}

/** Links her account at a platform, and ticks some of its outlets. @returns the account, on the page of places */
export async function useOutlets(page: Page, platform: string, outlets: readonly string[]): Promise<Locator> {
  await page.goto(`${access.console}/places`);
  await allow(await consentOf(page, `Link an account at ${platform}`));
  const account = page.getByRole('article').filter({ hasText: `Ines Tarrow at ${platform}` });
  await account.getByRole('button', { name: 'Choose what is used' }).click();
  for (const outlet of outlets) await account.getByLabel(outlet).check();
  await account.getByRole('button', { name: 'Close' }).click();
  for (const outlet of outlets)
    await expect(account.getByRole('listitem').filter({ hasText: outlet })).toBeVisible();
  return account;
}
