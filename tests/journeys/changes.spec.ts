import { expect, test } from '@playwright/test';
import { access, api, eventOf, signIn } from './house.js';

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

test('two people change the same words: both versions stand side by side until one is chosen', async ({
  page,
}) => {
  await signIn(page);
  const { id } = await eventOf('bell-ringers-quarter-peal');
  await page.goto(`${access.console}/events/${id}/plan`);
  const words = page.getByLabel('What people should know');
  const [theirs, ours] = ['Theirs: earplugs', 'Ours: a cushion'].map((what) => `${what}, ${Date.now()}`);
  await expect(words).toBeVisible();
  let isFirst = true;
  await page.route(`**/api/events/${id}`, async (route) => {
    if (route.request().method() === 'PATCH' && isFirst) {
      isFirst = false;
      // Somebody else is quicker by a moment.
      const { version } = await api<{ version: number }>(`/events/${id}`);
      const body = JSON.stringify({ description: theirs });
      await api(`/events/${id}`, { method: 'PATCH', body, headers: { 'if-match': `"${version}"` } });
    }
    await route.continue();
  });
  await words.fill(ours!);
  const both = page.getByRole('alert', { name: 'Two versions' });
  await expect(both).toContainText(theirs!);
  await expect(both).toContainText(ours!);
  await both.getByRole('button', { name: 'Save yours over theirs' }).click();
  await expect.poll(async () => (await api<{ description: string }>(`/events/${id}`)).description).toBe(ours);
});
