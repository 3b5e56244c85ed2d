import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Locator } from '@playwright/test';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { PostingCommentView, PostingView } from '@heliphon/contracts/postings';
import type { Page } from '@heliphon/contracts/problem';
import { access, api, onAir, openConsole, openSides, seesMore, type Sides, until } from './installation.js';

const OUTLET = 'Lantern Quay Commons';
let sides: Sides;
let event: EventView;
let place: DestinationView;
/** The place on the desk. */
let row: Locator;

/** A platform is linked by its own consent page, and what is on air goes there too. */
beforeAll(async () => {
  sides = await openSides();
  await link();
  const { items } = await api<Page<EventView>>('/events?limit=200');
  event = items.find(({ slug }) => slug === onAir.slug)!;
  const places = await api<Page<DestinationView>>('/destinations?limit=100');
  place = places.items.find(({ name }) => name.startsWith(OUTLET))!;
  await api(`/events/${event.id}/places/${place.id}`, { method: 'PUT' });
  row = sides.desk
    .getByRole('region', { name: 'Where it goes' })
    .getByRole('listitem')
    .filter({ hasText: OUTLET });
  await goesOut();
});
afterAll(() => sides.browser.close());

async function link(): Promise<void> {
  const page = await openConsole(sides.browser);
  await page.goto(`${access.console}/places`);
  const opened = page.waitForEvent('popup');
  await page.getByRole('button', { name: 'Link an account at Skerry' }).click();
  const consent = await opened;
  await consent.getByRole('link', { name: 'Ines Tarrow' }).click();
  const closed = consent.waitForEvent('close');
  await consent.getByRole('button', { name: 'Allow', exact: true }).click();
  await closed;
  const account = page.getByRole('article').filter({ hasText: 'Ines Tarrow at Skerry' });
  await account.getByRole('button', { name: 'Choose what is used' }).click();
  await account.getByLabel(OUTLET).check();
  await account.getByRole('button', { name: 'Close' }).click();
  await page.close();
}

const skerry = (order: object): Promise<unknown> =>
  fetch(`${access.platforms.skerry}/faults`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(order),
  });
const postingOf = async ({ id }: Pick<EventView, 'id'>): Promise<PostingView | undefined> =>
  (await api<{ items: PostingView[] }>(`/events/${id}/postings`)).items.find(
    ({ destinationId }) => destinationId === place.id,
  );
async function rowSays(words: RegExp): Promise<void> {
  const wait = until(async () => words.test(await row.innerText()), `the place to say ${words.source}`);
  await wait.catch(async (error: unknown) => {
    const said = await sides.desk.getByRole('region', { name: 'Where it goes' }).innerText();
    throw new Error(`${String(error)}; it says: ${said}`, { cause: error });
  });
}
const goesOut = (): Promise<void> => rowSays(/going out/);
/** The place is paused and resumed, so that the node connects to it again. */
async function connectAgain(): Promise<void> {
  for (const paused of [true, false])
    await api(`/events/${event.id}/places/${place.id}`, { method: 'POST', body: { paused } });
}
/** Nobody who watches here notices anything, and neither does the place beside it. */
async function othersGoOn(): Promise<void> {
  await seesMore(sides.viewer, 3);
  const beside = sides.desk.getByRole('listitem').filter({ hasText: 'Harbour Town Channel' });
  expect(await beside.innerText()).toContain('going out');
}

describe('a platform', () => {
  test.each([
    ['is out of order', 'outage', 'out-of-order'],
    ['takes far too long', 'slow', 'out-of-order'],
    ['asks for patience', 'rate-limit', 'busy'],
  ])('that %s keeps the picture: only what is asked of it waits', async (_what, fault, trouble) => {
    await skerry({ fault });
    await until(async () => (await postingOf(event))?.trouble === trouble, `the trouble ${trouble}`);
    await goesOut();
    await othersGoOn();
    await skerry({ fault: 'none' });
    await until(async () => (await postingOf(event))?.trouble === null, 'all to be well');
  });

  test('that refuses the key is told in its own words, and takes the picture once it takes the key', async () => {
    await skerry({ fault: 'refuse-key' });
    await connectAgain();
    await rowSays(/This key is not valid any more/);
    await othersGoOn();
    await skerry({ fault: 'none' });
    await goesOut();
  });

  test('that takes the connection and reads nothing delays nobody', async () => {
    await skerry({ fault: 'never-reads' });
    await connectAgain();
    // What waits for it is kept by the system for a long while, and then by us: neither holds up anybody else.
    await othersGoOn();
    await othersGoOn();
    await skerry({ fault: 'none' });
    await goesOut();
  });

  test('that hangs up again and again is called again', async () => {
    await skerry({ fault: 'closes-often' });
    await connectAgain();
    await goesOut();
    await rowSays(/closed the connection/);
    await othersGoOn();
    await skerry({ fault: 'none' });
    await goesOut();
  });

  test('that lets its tokens run out gives others, and nobody has to do anything', async () => {
    await skerry({ event: 'expire-tokens' });
    const { link } = (await postingOf(event))!;
    const body = new URLSearchParams({ author: 'Aunt Sib', text: 'Still here' });
    await fetch(`${link}/comments`, { method: 'POST', body });
    // Only with a token that is good.
    await until(async () => {
      const { items } = await api<Page<PostingCommentView>>(`/events/${event.id}/comments`);
      return items.some(({ text }) => text === 'Still here');
    }, 'what is said there');
    expect((await postingOf(event))?.trouble).toBeNull();
    await goesOut();
  });

  test('that has lost a posting gets it again', async () => {
    const day = new Date(Date.now() + 2 * 86_400_000).toISOString().slice(0, 10);
    const times = { startsAtLocal: `${day}T18:00`, stopsAtLocal: `${day}T19:00` };
    const planned = await api<EventView>('/events', { body: { title: 'Lost and found', ...times } });
    await api(`/events/${planned.id}/places/${place.id}`, { method: 'PUT' });
    const link = async (): Promise<string | false> => (await postingOf(planned))?.link ?? false;
    const first = await until(link, 'the posting');
    await skerry({ event: 'lose-postings' });
    expect((await fetch(first)).status).toBe(404);
    const { version } = await api<EventView>(`/events/${planned.id}`);
    await api(`/events/${planned.id}`, { method: 'PATCH', version, body: { title: 'Found' } });
    await until(async () => {
      const now = await link();
      return now !== false && (await fetch(now)).ok;
    }, 'the new posting');
    await goesOut();
  });

  test('whose owner takes the consent back keeps the picture to the end, and it is said what to do', async () => {
    await skerry({ event: 'revoke-consents' });
    await until(async () => (await postingOf(event))?.trouble === 'consent-ended', 'the trouble');
    await othersGoOn();
    await goesOut();
  });
});
