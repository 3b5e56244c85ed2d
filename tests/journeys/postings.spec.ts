import { expect, test } from '@playwright/test';
import { access, api, expectAccessible, platformDoes, signIn, standin } from './house.js';
import { useOutlets } from './linking.js';
import { addSource, end, goOnAir, own, planEvent } from './own-event.js';

test('an event is posted at two platforms ahead of time, goes out there without anybody copying a key, and ends there', async ({
  page,
  context,
}) => {
  const source = await addSource(own('Belfry'));
  const event = await planEvent(own('Ringing in'), source.id);
  await signIn(page);

  await test.step('accounts are linked, and their outlets are places of the event', async () => {
    await useOutlets(page, 'Skerry', ['Lantern Quay Commons']);
    await useOutlets(page, 'Windlass', ['Bells of the harbour']);
    await page.goto(`${access.console}/events/${event.id}/plan`);
    await page.getByRole('button', { name: 'Lantern Quay Commons at Skerry' }).click();
    await page.getByRole('button', { name: 'Bells of the harbour at Windlass' }).click();
  });

  const postings = page.getByRole('list', { name: 'Postings' }).getByRole('listitem');
  const atSkerry = postings.filter({ hasText: 'Skerry' });
  const atWindlass = postings.filter({ hasText: 'Windlass' });
  await test.step('it is posted, and followed when its title changes', async () => {
    await expect(atSkerry).toContainText('posted');
    await expect(atWindlass).toContainText('posted');
    await page.getByLabel('Title').fill(`${event.title}, the new ring`);
    const opened = context.waitForEvent('page');
    await atSkerry.getByRole('link', { name: 'See it there' }).click();
    const there = await opened;
    const titleThere = async (): Promise<string | null> => {
      await there.reload();
      return there.getByRole('heading', { level: 1 }).textContent();
    };
    await expect.poll(titleThere).toBe(`${event.title}, the new ring`);
    await there.close();
    await expectAccessible(page);
  });

  const pictureAt = async (posting: typeof atSkerry, file: string): Promise<number> => {
    const link = await posting.getByRole('link', { name: 'See it there' }).getAttribute('href');
    return (await page.request.get(`${link}/${file}`)).status();
  };
  await test.step('on air both have the picture', async () => {
    const links = [atSkerry, atWindlass].map((posting) => posting.getByRole('link').getAttribute('href'));
    const [skerry, windlass] = await Promise.all(links);
    const key = await api<object>(`/sources/${source.id}/key`);
    await standin(`/encoders/${encodeURIComponent(source.name)}/start`, key);
    await goOnAir(page, event);
    const places = page.getByRole('region', { name: 'Where it goes' });
    await expect(places).toContainText(/Lantern Quay Commons at Skerry\s*going out/);
    await expect(places).toContainText(/Bells of the harbour at Windlass\s*going out/);
    await expect.poll(async () => (await page.request.get(`${skerry}/picture.jpg`)).status()).toBe(200);
    await expect.poll(async () => (await page.request.get(`${windlass}/still.jpg`)).status()).toBe(200);
  });

  const row = (name: string) =>
    page.getByRole('region', { name: 'Where it goes' }).getByRole('listitem').filter({ hasText: name });
  await test.step('what is said over there stands beside the chat, read only', async () => {
    await row('Lantern Quay')
      .getByRole('button', { name: 'Lantern Quay Commons at Skerry', exact: true })
      .click();
    await expect(row('Lantern Quay')).toContainText('Mbit/s');
    const opened = context.waitForEvent('page');
    await row('Lantern Quay').getByRole('link', { name: 'See it there' }).click();
    const there = await opened;
    await there.getByLabel('Your name').fill('Aunt Sib');
    await there.getByLabel('What would you like to say?').fill('The treble is early!');
    await there.getByRole('button', { name: 'Comment' }).click();
    // Closed before that, the page would take its comment with it.
    await expect(there.getByText('The treble is early!')).toBeVisible();
    await there.close();
    const messages = page.getByRole('list', { name: 'Messages' });
    await expect(messages).toContainText('Aunt Sib at Lantern Quay Commons at Skerry The treble is early!');
    await expectAccessible(page);
  });

  await test.step('what a platform ends after its longest time is no fault, and goes on in one step', async () => {
    await platformDoes('skerry', { event: 'end-open' });
    await expect(row('Lantern Quay')).toContainText('Skerry ended it after 4 hours, as it always does');
    await expect(row('Bells')).toContainText('going out');
    await row('Lantern Quay').getByRole('button', { name: 'Go on there in a new posting' }).click();
    await expect.poll(() => pictureAt(row('Lantern Quay'), 'picture.jpg')).toBe(200);
  });

  await test.step('a place is let go and taken in again at the desk', async () => {
    await row('Bells').getByRole('button', { name: 'Bells of the harbour at Windlass', exact: true }).click();
    await row('Bells').getByRole('button', { name: 'Remove it: hold' }).focus();
    await page.keyboard.down('Enter');
    await expect(row('Bells')).toBeHidden();
    await page.keyboard.up('Enter');
    await page.getByRole('button', { name: 'Add a place' }).click();
    await page.getByRole('button', { name: 'Bells of the harbour at Windlass' }).click();
    await row('Bells').getByRole('button', { name: 'Bells of the harbour at Windlass', exact: true }).click();
    await expect.poll(() => pictureAt(row('Bells'), 'still.jpg')).toBe(200);
  });

  await test.step('it ends there too', async () => {
    await end(event);
    await standin(`/encoders/${encodeURIComponent(source.name)}/stop`, {});
    await page.goto(`${access.console}/events/${event.id}/plan`);
    await expect(atSkerry).toContainText('over');
    await expect(atWindlass).toContainText('over');
    expect(await pictureAt(atSkerry, 'picture.jpg')).toBe(404);
  });
});
