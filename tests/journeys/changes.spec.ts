import { expect, test } from '@playwright/test';
import { access, api, eventOf, signIn } from './house.js';

test('a change in the record is undone', async ({ page }) => {
  await signIn(page, 'owner');
  await page.goto(`${access.console}/house/look`);
  const rules = page.getByLabel('House rules of the chat');
  const before = await rules.inputValue();
  await rules.fill('Only sea shanties.');
  await page.getByRole('button', { name: 'Save the house' }).click();
  await expect(page.getByText('The house has been saved.')).toBeVisible();
  await page.goto(`${access.console}/house/record`);
  await page.getByLabel('Search the record').fill('Only sea shanties');
  // What was undone before is in the record too: its words tell nothing of this.
  const undone = page.waitForResponse(/\/undo$/);
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  expect((await undone).ok()).toBe(true);
  await expect(page.getByText('was undone').first()).toBeVisible();
  await page.goto(`${access.console}/house/look`);
  await expect(page.getByLabel('House rules of the chat')).toHaveValue(before);
});

test('two people change the same words: both versions stand side by side until one is chosen', async ({
  page,
}) => {
  await signIn(page);
  const { id } = await eventOf('bell-ringers-quarter-peal');
  await page.goto(`${access.console}/events/${id}/plan`);
  const words = page.getByLabel('Description');
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
  await both.getByRole('button', { name: 'Keep yours' }).click();
  await expect.poll(async () => (await api<{ description: string }>(`/events/${id}`)).description).toBe(ours);
});

test('what somebody else saves while a draft waits for the line is not overwritten unseen', async ({
  page,
}) => {
  await signIn(page);
  const event = await eventOf('bell-ringers-quarter-peal');
  const path = `/events/${event.id}`;
  const others = async (edit: object): Promise<void> => {
    const { version } = await api<{ version: number }>(path);
    const headers = { 'if-match': `"${version}"` };
    await api(path, { method: 'PATCH', body: JSON.stringify(edit), headers });
  };
  await page.goto(`${access.console}${path}/plan`);
  let isCut = true;
  await page.route(`**/api${path}`, (route) =>
    route.request().method() === 'PATCH' && isCut ? route.abort() : route.continue(),
  );
  await page.getByLabel('Description').fill(`Ours, ${Date.now()}`);
  const title = `Quarter Peal, moved indoors ${Date.now()}`;
  await others({ title, description: 'Theirs: the tower is shut' });
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  isCut = false;
  const both = page.getByRole('alert', { name: 'Two versions' });
  await expect(both).toContainText('Theirs: the tower is shut');
  await both.getByRole('button', { name: 'Keep theirs' }).click();
  await others({ title: 'Bell-ringers’ Quarter Peal' });
});
