import { expect, test } from '@playwright/test';
import { access, api, eventOf, onAir, signIn } from './house.js';

interface Planned {
  readonly id: string;
  readonly slug: string;
}

/** An event of one's own, so many days from now. */
async function planned(title: string, inDays: number, source: string, hour = 10): Promise<Planned> {
  const day = new Date(Date.now() + inDays * 86_400_000).toISOString().slice(0, 10);
  const { items } = await api<{ items: { id: string; name: string }[] }>('/sources');
  const two = (value: number): string => String(value).padStart(2, '0');
  const wish = {
    title: `${title} ${Date.now() % 10_000}`,
    startsAtLocal: `${day}T${two(hour)}:00`,
    stopsAtLocal: `${day}T${two(hour + 1)}:00`,
    sourceId: items.find(({ name }) => name === source)!.id,
  };
  return api<Planned>('/events', { method: 'POST', body: JSON.stringify(wish) });
}

test('somebody is put on duty, says that they cannot come, and the next one is asked', async ({
  page: desk,
  browser,
}) => {
  const { id } = await planned('Vespers', 5, 'Spare encoder');
  await signIn(desk);
  await desk.goto(`${access.console}/events/${id}`);
  const ready = desk.getByRole('complementary', { name: 'Ready to go on air?' });
  await expect(ready).toContainText('Nobody is on the rota to run the desk');
  await desk.getByLabel('Operator').selectOption('Odo Fenwright');
  await expect(desk.getByText('has not answered yet')).toBeVisible();
  await expect(ready).not.toContainText('Nobody is on the rota to run the desk');

  const odo = await (await browser.newContext()).newPage();
  await signIn(odo, 'operator');
  await odo.getByRole('link', { name: 'My duties' }).click();
  const own = odo.getByRole('listitem', { name: /^Vespers/ });
  await own.getByRole('button', { name: /^I cannot come/ }).click();
  await own.getByLabel('What the others should know').fill('I am at sea.');
  await own.getByRole('button', { name: 'Send' }).click();
  await expect(own).toContainText('nobody is covering yet');

  await expect(ready).toContainText('Odo Fenwright cannot come, and nobody is covering as operator');
  await expect(desk.getByText('Odo Fenwright cannot come: “I am at sea.”')).toBeVisible();
  await desk.getByLabel('Operator').selectOption('Pell Rowan');
  await expect(ready).not.toContainText('cannot come');
});

test('an order is pasted, followed beside the picture, moved on by a key, and written beside', async ({
  page: desk,
  browser,
}) => {
  await signIn(desk);
  const { id } = await eventOf(onAir.slug);
  await desk.goto(`${access.console}/events/${id}/order`);
  const text = desk.getByLabel('The order, as text');
  const before = await text.inputValue();
  const marked = `${before.trimEnd()}\n\n# Blessing of the nets ${Date.now() % 1000}\n  Mend them well.\n`;
  await text.fill(marked);
  const preview = desk.getByRole('region', { name: 'What people see' });
  await expect(preview).toContainText('Mend them well.');
  await desk.getByRole('button', { name: 'Save the order' }).click();
  await expect(desk.getByText('Saved. Viewers see it like this now.')).toBeVisible();

  // Somebody else saves another while this one is being written: neither is lost.
  await text.fill(`${marked}\n# Mine\n`);
  const { version, items } = await api<{ version: number; items: object[] }>(`/events/${id}/order`);
  const theirs = [...items, { id: 'theirs', atMinutes: null, title: 'Theirs', words: '' }];
  await api(`/events/${id}/order`, {
    method: 'PUT',
    headers: { 'if-match': `"${version}"` },
    body: JSON.stringify({ items: theirs }),
  });
  const both = desk.getByRole('alert', { name: 'Two versions' });
  await expect(both).toContainText('# Theirs');
  await expect(text).toHaveValue(/# Mine/);
  await both.getByRole('button', { name: 'Take theirs' }).click();
  await expect(text).toHaveValue(/# Theirs/);
  await expect(both).toBeHidden();

  const viewer = await (await browser.newContext()).newPage();
  await viewer.goto(onAir.watch);
  const sheet = viewer.getByRole('complementary', { name: /Harbour Blessing/ });
  await expect(sheet.getByRole('button', { name: /^Blessing of the nets/ })).toBeVisible();

  await desk.goto(`${access.console}/events/${id}/air`);
  const order = desk.getByRole('region', { name: 'Order sheet' });
  const next = order.getByRole('button', { name: /^On to/ });
  const title = (await next.innerText()).split('\n')[0]!.replace('On to: ', '');
  await desk.getByRole('heading', { level: 1 }).click();
  await desk.keyboard.press('o');
  await expect(order).toContainText('moved by the desk');
  await expect(sheet.locator('[aria-current=step]')).toContainText(title);
  await sheet.getByRole('button', { name: `Make a note: ${title}` }).click();
  await sheet.getByLabel(`My note: ${title}`).fill('Grandmother sang this.');
  await viewer.reload();
  await expect(sheet.getByLabel(`My note: ${title}`)).toHaveValue('Grandmother sang this.');
  const file = viewer.waitForEvent('download');
  await sheet.getByRole('link', { name: 'Save my notes' }).click();
  expect((await file).suggestedFilename()).toBe(`${onAir.slug}-my-margin.txt`);
  await order.getByRole('button', { name: 'By its times' }).click();
  await expect(order).toContainText('by its times');
});

test('a rehearsal goes out in private this minute; its event’s page knows nothing of it', async ({
  page: desk,
  browser,
}) => {
  const { id, slug } = await planned('Trial', 6, 'Pier camera');
  await signIn(desk);
  await desk.goto(`${access.console}/events/${id}/rehearse`);
  const rehearsal = desk.getByRole('region', { name: 'Private rehearsal' });
  await rehearsal.getByRole('button', { name: 'Rehearse now, in private' }).click();
  await expect(rehearsal).toContainText('The private rehearsal is running');
  const address = await rehearsal.getByRole('textbox', { name: 'Private address' }).inputValue();

  const friend = await (await browser.newContext()).newPage();
  await friend.goto(address);
  await expect(friend.getByText('Rehearsal, in private')).toBeVisible();
  await expect(friend.locator('[data-state=playing]')).toBeVisible();
  await friend.goto(`${access.console}/watch/${slug}`);
  await expect(friend.getByText('This page starts by itself.')).toBeVisible();

  await rehearsal.getByRole('button', { name: 'End the rehearsal' }).click();
  await expect(rehearsal.getByRole('button', { name: 'Keep it' })).toBeVisible();
  await rehearsal.getByRole('button', { name: 'Delete it' }).click();
  await expect(rehearsal.getByRole('button', { name: 'Keep it' })).toBeHidden();
  await expect(desk.getByText(/is in the bin/)).toBeVisible();
});

test('a clash is ended in one step, found again by a search, and several are changed together', async ({
  page: desk,
}) => {
  const [first, second] = [
    await planned('Clash', 8, 'Tower box', 11),
    await planned('Clash', 8, 'Tower box', 11),
  ];
  await signIn(desk);
  await desk.goto(`${access.console}/events/${second.id}`);
  const clash = desk.getByRole('region', { name: 'Clash' });
  await expect(clash).toContainText('needs the same source at the same time');
  await clash
    .getByRole('button', { name: /^Take / })
    .first()
    .click();
  await expect(clash).toBeHidden();

  await desk.goto(access.console);
  await desk.getByRole('searchbox', { name: 'Search all events by title' }).fill('Clash');
  await expect(desk).toHaveURL(/q=Clash/);
  const found = desk.getByRole('region', { name: 'Search results' });
  await expect(found.getByRole('checkbox')).toHaveCount(2);
  for (const box of await found.getByRole('checkbox').all()) await box.check();
  await desk.getByLabel('Somebody on duty for them').selectOption({ label: 'Pell Rowan' });
  await expect(desk.getByText('2 of 2 have somebody on duty.')).toBeVisible();
  for (const box of await found.getByRole('checkbox').all()) await box.check();
  await desk.getByRole('button', { name: 'Delete them' }).click();
  await expect(found).toContainText('Nothing coming up matches');
  await desk.getByRole('button', { name: 'Show everything' }).click();
  await desk.getByRole('button', { name: 'Month' }).click();
  await expect(desk).toHaveURL(/view=month/);
  await desk
    .getByRole('button', { name: /, one event$/ })
    .first()
    .click();
  await expect(desk).not.toHaveURL(/view=month/);
  expect(first.id).not.toBe(second.id);
});
