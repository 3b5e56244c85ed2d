import { expect, test } from '@playwright/test';
import { access, signIn } from './house.js';

test('a source’s key comes as codes and as a sheet, a place’s key only on request', async ({ page }) => {
  await signIn(page);
  await page.goto(`${access.console}/sources`);
  await page.getByRole('button', { name: 'Address and key' }).first().click();
  await page.getByRole('button', { name: 'Show codes for a camera' }).click();
  await expect(page.getByAltText('Code of the key')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Connection history' })).toBeVisible();
  await page.goto(`${access.console}/places`);
  await page.getByRole('button', { name: 'Change' }).first().click();
  await page.getByRole('button', { name: 'Show address and key' }).click();
  await expect(page.getByLabel('Address with its key', { exact: true })).toHaveValue(/^rtmp:\/\//);
});
