import { expect, type Page, test } from '@playwright/test';
import { access, expectAccessible, platformDoes, setClock, signIn, standin } from './house.js';
import { allow, consentOf, useOutlets } from './linking.js';
import { planWeekly } from './own-event.js';
import { beginWatching, playsOn, whatWasSeen } from './viewer-watch.js';

/** A weekly service goes out at two platforms and a plain address, two weeks running; it begins after the three Sundays. */

const ENCODER = 'tower';
const HOUR_MS = 3_600_000;
const [FIRST, SECOND] = ['2027-06-13', '2027-06-20'];
/** 10:30 in London's summer. */
const startOf = (date: string): number => Date.parse(`${date}T09:30:00Z`);
const TITLE = `Lamplight service ${Date.now() % 10_000}`;
const OUTLETS = [
  'Lantern Quay Commons at Skerry',
  'Gig rowers at Skerry',
  'Bells of the harbour at Windlass',
] as const;
const LATE = 'Lantern Quay Films at Windlass';
const RELAY = 'Coast relay';

test('a weekly service goes out at linked platforms two weeks running, and nobody copies a key', async ({
  page: desk,
  browser,
}) => {
  await setClock(Date.parse('2027-06-09T12:00:00Z'));
  await signIn(desk, 'owner');
  const ask = <T>(path: string): Promise<T> =>
    desk.evaluate(async (url) => (await (await fetch(`/api${url}`)).json()) as unknown, path) as Promise<T>;
  const datesOf = async (): Promise<readonly { id: string; series: { date: string } }[]> =>
    (await ask<{ items: { id: string; series: { date: string } }[] }>(`/events?limit=100&q=${TITLE}`)).items;
  const dateOn = async (date: string): Promise<string> =>
    (await datesOf()).find(({ series }) => series?.date === date)!.id;

  await test.step('two accounts are linked by their platforms’ own consents', async () => {
    const skerry = await useOutlets(desk, 'Skerry', ['Lantern Quay Commons', 'Gig rowers']);
    for (const name of ['Lantern Quay Commons', 'Gig rowers'])
      await skerry.getByLabel(`When events are posted at ${name}`).selectOption('48');
    const windlass = await useOutlets(desk, 'Windlass', ['Bells of the harbour', 'Lantern Quay Films']);
    await windlass.getByLabel('When events are posted at Bells of the harbour').selectOption('48');
  });

  await test.step('it is planned for every Sunday, with three outlets, a plain address and smaller pictures', async () => {
    await desk.goto(access.console);
    await planWeekly(desk, TITLE, FIRST!);
    for (const place of [...OUTLETS, RELAY])
      await desk.getByRole('button', { name: place, exact: true }).click();
    await desk.getByLabel('Smaller pictures').selectOption({ label: 'These sizes' });
    await desk.getByRole('button', { name: 'Save for all dates to come' }).click();
    await expect(
      desk.getByRole('region', { name: 'Next dates' }).getByRole('listitem').first(),
    ).toBeVisible();
  });

  const first = await dateOn(FIRST!);
  const postings = desk.getByRole('list', { name: 'Postings' }).getByRole('listitem');
  const posted = async (eventId: string): Promise<void> => {
    await desk.goto(`${access.console}/events/${eventId}/plan`);
    const done = postings.filter({ has: desk.getByText('posted', { exact: true }) });
    await expect(done).toHaveCount(OUTLETS.length);
  };
  await test.step('two days ahead it is posted over there, and follows when it is moved', async () => {
    await desk.goto(`${access.console}/events/${first}/plan`);
    await expect(postings.first()).toContainText('will be posted on');
    await setClock(startOf(FIRST!) - 47 * HOUR_MS);
    await posted(first);
    const link = await postings
      .filter({ hasText: 'Lantern Quay' })
      .getByRole('link', { name: 'See it there' })
      .getAttribute('href');
    const there = await (await browser.newContext({ timezoneId: 'Europe/London' })).newPage();
    await there.goto(link!);
    await expect(there.getByRole('heading', { level: 1 })).toHaveText(TITLE);
    const before = await there.locator('time').first().getAttribute('datetime');
    await desk.getByLabel('Stops').fill(`${FIRST}T12:00`);
    await desk.getByLabel('Starts').fill(`${FIRST}T10:45`);
    await expect(async () => {
      await there.reload();
      expect(await there.locator('time').first().getAttribute('datetime')).not.toBe(before);
    }).toPass();
    await there.close();
  });

  // The encoder box was set once, and sends whenever it is switched on.
  const { items: sources } = await ask<{ items: { id: string; name: string }[] }>('/sources');
  const key = await ask<object>(`/sources/${sources.find(({ name }) => name === 'Tower box')!.id}/key`);
  const row = (name: string) =>
    desk.getByRole('region', { name: 'Where it goes' }).getByRole('listitem').filter({ hasText: name });
  const goesOut = async (eventId: string, startsAtMs: number): Promise<void> => {
    await setClock(startsAtMs - 60_000);
    await standin(`/encoders/${ENCODER}/start`, key);
    await desk.goto(`${access.console}/events/${eventId}/air`);
    await expect(desk.getByText('People see the countdown', { exact: false })).toBeVisible();
    await setClock(startsAtMs - 1000);
    for (const place of [...OUTLETS, RELAY]) await expect(row(place)).toContainText('going out');
  };
  const ends = async (): Promise<void> => {
    await desk.getByRole('button', { name: 'End for everyone: hold' }).focus();
    await desk.keyboard.down('Enter');
    await expect(desk.getByText('Kept', { exact: false }).first()).toBeVisible();
    await desk.keyboard.up('Enter');
    await standin(`/encoders/${ENCODER}/stop`, {});
  };

  await test.step('on air it goes everywhere by itself', async () => {
    await goesOut(first, startOf(FIRST!) + HOUR_MS / 4);
  });

  await test.step('a consent that is revoked meanwhile is told, and stops nobody else', async () => {
    await platformDoes('skerry', { event: 'revoke-consents' });
    await desk.goto(`${access.console}/events/${first}/plan`);
    await expect(postings.filter({ hasText: 'Lantern Quay' })).toContainText('The consent has ended.');
    await desk.goto(`${access.console}/events/${first}/air`);
    await expect(row('Bells of the harbour')).toContainText('going out');
    await expect(row(RELAY)).toContainText('going out');
  });

  await test.step('a fourth outlet is added, and goes out within seconds', async () => {
    await desk.getByRole('button', { name: 'Add a place' }).click();
    await desk.getByRole('button', { name: LATE }).click();
    await expect(row(LATE)).toContainText('going out');
  });

  await test.step('a place is put on a smaller picture, and nobody else notices', async () => {
    await row(RELAY).getByRole('button', { name: RELAY, exact: true }).click();
    await row(RELAY).getByLabel('Picture', { exact: true }).selectOption('360p');
    await expect(row('Our website')).toContainText('Sizes: your own, 480p, 360p');
    await expect(row(RELAY)).toContainText('going out');
    await expectAccessible(desk);
  });

  await test.step('a viewer whose line carries 1 Mbit/s sees a smaller picture, which goes on', async () => {
    const viewer = await watchOnWeakLine(await (await browser.newContext()).newPage(), first, ask);
    await expect.poll(() => heightOf(viewer)).toBe(360);
    await beginWatching(viewer);
    await playsOn(viewer, 12);
    expect((await whatWasSeen(viewer)).setBacks).toBe(0);
    await viewer.close();
  });

  await test.step('it ends, and is over there too', async () => {
    await ends();
    await desk.goto(`${access.console}/events/${first}/plan`);
    await expect(postings.filter({ hasText: 'Bells of the harbour' })).toContainText('over');
  });

  await test.step('the account is linked again, and next week goes out with nobody having copied anything', async () => {
    await desk.goto(`${access.console}/places`);
    const skerry = desk.getByRole('article').filter({ hasText: 'Ines Tarrow at Skerry' });
    await allow(await consentOf(desk, 'Link again', skerry));
    await expect(skerry).toContainText('the consent lasts until');
    await setClock(startOf(SECOND!) - 47 * HOUR_MS);
    const second = await dateOn(SECOND!);
    await posted(second);
    await goesOut(second, startOf(SECOND!));
    await ends();
  });
});

const heightOf = (page: Page): Promise<number> =>
  page.locator('video').evaluate((video) => (video as HTMLVideoElement).videoHeight);

/** The watch page of an event over a line of 1 Mbit/s. */
async function watchOnWeakLine(
  page: Page,
  eventId: string,
  ask: <T>(path: string) => Promise<T>,
): Promise<Page> {
  const { slug } = await ask<{ slug: string }>(`/events/${eventId}`);
  const line = await page.context().newCDPSession(page);
  await line.send('Network.enable');
  await line.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 40,
    downloadThroughput: 1_000_000 / 8,
    uploadThroughput: 500_000 / 8,
  });
  await page.goto(`${access.console}/watch/${slug}`);
  await expect(page.getByRole('group', { name: /Player/ })).toHaveAttribute('data-state', 'playing');
  return page;
}
