import { expect, type Page, test } from '@playwright/test';
import sharp from 'sharp';
import { access, api, onAir, signIn, standin } from './house.js';

interface EventView {
  readonly id: string;
  readonly slug: string;
  readonly title: string;
}

async function planByApi(title: string): Promise<EventView> {
  const body = { title, startsAtLocal: '2027-05-02T10:30', stopsAtLocal: '2027-05-02T12:00', sourceId: null };
  return api<EventView>('/events', { method: 'POST', body: JSON.stringify(body) });
}

const openPlan = (page: Page, event: EventView) => page.goto(`${access.console}/events/${event.id}/plan`);

test.describe('signing in', () => {
  test('a wrong password is told in words, and what was typed stays', async ({ page }) => {
    await page.goto(access.console);
    await page.getByLabel('Email').fill('ines@lantern-quay.example');
    await page.getByLabel('Password').fill('wrong');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByRole('alert')).toContainText('That email address or password is wrong.');
    await expect(page.getByLabel('Email')).toHaveValue('ines@lantern-quay.example');
  });

  test('signing out leads back to the door', async ({ page }) => {
    await signIn(page, 'operator');
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByRole('heading', { name: 'Sign in to your house' })).toBeVisible();
  });

  test('another house sees nothing of this one', async ({ page }) => {
    const stranger = access.people.find((person) => person.email.endsWith('tide-mill.example'))!;
    await page.goto(access.console);
    await page.getByLabel('Email').fill(stranger.email);
    await page.getByLabel('Password').fill(stranger.password);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByRole('region', { name: 'The first service' })).toBeVisible();
    await expect(page.getByText('Harbour Blessing')).toHaveCount(0);
    await page.getByRole('link', { name: 'Sources' }).click();
    await expect(page.getByText('No sources yet.')).toBeVisible();
  });
});

test.describe('an event', () => {
  test('its poster can be chosen, and a file that is no picture is told in words', async ({ page }) => {
    const event = await planByApi('Poster day');
    await signIn(page);
    await openPlan(page, event);
    const chooser = page.locator('input[type=file]');
    await chooser.setInputFiles({
      name: 'a.jpg',
      mimeType: 'image/jpeg',
      buffer: Buffer.from('no picture at all'),
    });
    await expect(page.getByText('We could not read this as a picture.')).toBeVisible();
    const picture = await sharp({ create: { width: 1600, height: 900, channels: 3, background: '#24405c' } })
      .jpeg()
      .toBuffer();
    await chooser.setInputFiles({ name: 'b.jpg', mimeType: 'image/jpeg', buffer: picture });
    await expect(page.getByRole('img', { name: 'The poster' })).toBeVisible();
    await expect(page.getByRole('complementary', { name: 'Ready to go on air?' })).not.toContainText(
      'There is no poster',
    );
  });

  test('two people who edit it at once lose nothing of either', async ({ page, browser }) => {
    const event = await planByApi('Two hands');
    const other = await (await browser.newContext()).newPage();
    await signIn(page);
    await signIn(other, 'owner');
    await Promise.all([openPlan(page, event), openPlan(other, event)]);
    await page.getByLabel('Description').fill('Written by Ines');
    await other.getByLabel('Title').fill('Four hands');
    await expect
      .poll(() => api<EventView & { description: string }>(`/events/${event.id}`))
      .toMatchObject({ title: 'Four hands', description: 'Written by Ines' });
    await expect(page.getByRole('heading', { level: 1, name: 'Four hands' })).toBeVisible();
  });

  test('what is typed while the server is out of reach is kept and saved after', async ({
    page,
    context,
  }) => {
    const event = await planByApi('Cut cable');
    await signIn(page);
    await openPlan(page, event);
    await expect(page.getByLabel('Title')).toHaveValue('Cut cable');
    await context.setOffline(true);
    await page.getByLabel('Title').fill('Cut cable, mended');
    await expect(page.getByText('not saved yet, still trying; your text is safe here')).toBeVisible();
    await context.setOffline(false);
    await expect
      .poll(async () => (await api<EventView>(`/events/${event.id}`)).title)
      .toBe('Cut cable, mended');
    await expect(page.getByText('saved', { exact: true })).toBeVisible();
  });

  test('can be deleted before it begins, in two steps', async ({ page }) => {
    const event = await planByApi('Called off');
    await signIn(page);
    await openPlan(page, event);
    await page.getByRole('button', { name: 'Delete the event' }).click();
    await expect(page.getByText('Its page and address go too.')).toBeVisible();
    await page.getByRole('button', { name: 'Delete “Called off”' }).click();
    await expect(page.getByRole('heading', { level: 1, name: / to / })).toBeVisible();
    await page.goto(`${access.console}/watch/${event.slug}`);
    await expect(page.getByRole('alert')).toContainText('There is nothing at this address');
  });

  test('a command that comes too late is told with what has happened', async ({ page }) => {
    const event = await planByApi('Already open');
    await signIn(page);
    await page.goto(`${access.console}/events/${event.id}/air`);
    await expect(page.getByRole('button', { name: 'Open the doors' })).toBeVisible();
    await page.route('**/open-doors', async (route) => {
      const { commandId } = route.request().postDataJSON() as { commandId: string };
      await route.continue({ postData: JSON.stringify({ commandId, fromState: 'air' }) });
    });
    await page.getByRole('button', { name: 'Open the doors' }).click();
    await expect(page.getByRole('alert')).toContainText('Too late: the event is planned now.');
  });
});

test.describe('sources', () => {
  test('are added, renamed, given a new key, and deleted', async ({ page }) => {
    await signIn(page);
    await page.getByRole('link', { name: 'Sources' }).click();
    await page.getByRole('button', { name: 'Add a source' }).click();
    await page.getByLabel('Name of the source').fill('Gallery box');
    await page.getByLabel('Encoders also need a name and password').check();
    await page.getByRole('button', { name: 'Add the source' }).click();
    const row = page
      .getByRole('listitem')
      .filter({ has: page.getByRole('heading', { name: 'Gallery box' }) });
    await expect(row.getByLabel('Address', { exact: true })).toHaveValue(/\/in\/encoder-[0-9a-z]+$/);
    await expect(row.getByLabel('Password', { exact: true })).toHaveAttribute('type', 'password');
    await row.getByRole('button', { name: 'Show' }).first().click();
    await expect(row.getByLabel('Key', { exact: true })).toHaveAttribute('type', 'text');
    const key = row.getByLabel('Key', { exact: true });
    const old = await key.inputValue();

    await row.getByRole('button', { name: 'Renew the key …' }).click();
    // Something above it grows while it is held: the press is not lost.
    const button = page.getByRole('button', { name: 'Renew the key: hold' });
    await button.hover({ position: { x: 5, y: 5 } });
    const { x, y } = (await button.boundingBox())!;
    await page.mouse.down();
    await page.evaluate(() => document.body.style.setProperty('padding-top', '20rem'));
    await page.mouse.move(x + 6, y + 6);
    await expect(key).not.toHaveValue(old);
    await page.mouse.up();

    await row.getByLabel('Name of the source').fill('Organ loft box');
    await row.getByRole('button', { name: 'Rename' }).click();
    await expect(page.getByRole('heading', { name: 'Organ loft box' })).toBeVisible();
    await page.getByRole('button', { name: 'Delete the source' }).click();
    await expect(page.getByRole('heading', { name: 'Organ loft box' })).toBeHidden();
  });

  test('an encoder with a wrong password is told of where somebody looks', async ({ page }) => {
    await signIn(page);
    await page.getByRole('link', { name: 'Sources' }).click();
    const row = page
      .getByRole('listitem')
      .filter({ has: page.getByRole('heading', { name: 'Spare encoder' }) });
    await row.getByRole('button', { name: 'Address and key' }).click();
    const { address, key, user } = access.rtmp;
    await standin('/encoders/stranger/start', { address, key, user, password: 'not-this' });
    await expect(
      row.getByText('An encoder connected with the wrong name or password.', { exact: true }),
    ).toBeVisible();
    await standin('/encoders/stranger/start', access.rtmp);
    await expect(row.getByText('720p30').first()).toBeVisible();
    await standin('/encoders/stranger/stop', {});
    await expect(row.getByText('nothing is coming in').first()).toBeVisible();
  });
});

test.describe('where it goes', () => {
  test('a place is added, changed and deleted; one in use stays', async ({ page }) => {
    await signIn(page);
    await page.getByRole('link', { name: 'Where it goes' }).click();
    await page.getByRole('button', { name: 'Add a place' }).click();
    await page.getByLabel('Name of the place').fill('Island relay');
    await page.getByLabel('Whole address, including the key').fill('rtmp://island.example:1936/live/abc');
    await expect(page.getByLabel('The parts of the address')).toContainText('1936');
    await page.getByRole('button', { name: 'Add the place' }).click();
    const row = page
      .getByRole('listitem')
      .filter({ has: page.getByRole('heading', { name: 'Island relay' }) });
    await expect(row).toContainText('island.example:1936/live');
    await row.getByRole('button', { name: 'Change' }).click();
    await row.getByLabel('Name of the place').fill('Far island relay');
    await row.getByRole('button', { name: 'Save the place' }).click();
    const renamed = page
      .getByRole('listitem')
      .filter({ has: page.getByRole('heading', { name: 'Far island relay' }) });
    await renamed.getByRole('button', { name: 'Change' }).click();
    await renamed.getByRole('button', { name: 'Delete the place' }).click();
    await expect(renamed).toBeHidden();
    const used = page
      .getByRole('listitem')
      .filter({ has: page.getByRole('heading', { name: 'Harbour Town Channel' }) });
    await used.getByRole('button', { name: 'Change' }).click();
    await used.getByRole('button', { name: 'Delete the place' }).click();
    await expect(used.getByRole('alert')).toContainText(
      'goes to this place. Take the place out of that event first.',
    );
  });

  test('a place that refuses its key is told at the desk, and the others are fine', async ({ page }) => {
    await signIn(page);
    const { items } = await api<{ items: EventView[] }>('/events?limit=200');
    const event = items.find((each) => each.slug === onAir.slug)!;
    await page.goto(`${access.console}/events/${event.id}/air`);
    const places = page.getByRole('region', { name: 'Where it goes' });
    await expect(places).toContainText(/Harbour Town Channel\s*going out/);
    await standin('/platform/lantern-quay-1/mode', { mode: 'refuse' });
    await expect(page.getByText('Harbour Town Channel did not accept our key.')).toBeVisible();
    await expect(places).toContainText(/Our website\s*going out/);
    await standin('/platform/lantern-quay-1/mode', { mode: 'accept' });
    await expect(places).toContainText(/Harbour Town Channel\s*going out/);
  });
});

test('the archive leads to a replay that plays, and its page says when it was', async ({ page, context }) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Archive' }).click();
  const row = page
    .getByRole('listitem')
    .filter({ has: page.getByRole('link', { name: 'Shanty Quiz, first round' }) });
  await expect(row).toContainText('2 min');
  const opened = context.waitForEvent('page');
  await row.getByRole('link', { name: 'Watch the replay' }).click();
  const replay = await opened;
  await expect(replay.getByText(/^replay of /)).toBeVisible();
  const video = replay.locator('video');
  await expect
    .poll(() => video.evaluate((element) => (element as HTMLVideoElement).duration))
    .toBeGreaterThan(115);
  await expect
    .poll(() => video.evaluate((element) => (element as HTMLVideoElement).currentTime))
    .toBeGreaterThan(1);
  await replay.getByRole('slider', { name: 'Where you are' }).fill('90');
  await expect
    .poll(() => video.evaluate((element) => (element as HTMLVideoElement).currentTime))
    .toBeGreaterThan(90);
  await replay.getByRole('combobox', { name: 'Picture' }).selectOption('Sound only');
  await expect(replay.getByText('Sound only, as you chose')).toBeVisible();
  await expect(replay.getByText(/^1:3\d \/ /)).toBeVisible();
  await replay.getByRole('button', { name: 'Pause' }).click();
  await expect(replay.getByRole('button', { name: 'Play' })).toBeVisible();
});

test.describe('a viewer', () => {
  test('goes back, is told how late, and returns to now', async ({ page }) => {
    await page.goto(onAir.watch);
    await page.getByRole('button', { name: 'Turn the sound on' }).click();
    const video = page.locator('video');
    await expect
      .poll(() => video.evaluate((element) => (element as HTMLVideoElement).seekable.length))
      .toBe(1);
    await page.getByRole('button', { name: 'Back 10 s' }).click();
    const late = page.getByRole('button', { name: /You are \d+ s late\. Go to now/ });
    await expect(late).toBeVisible();
    await late.click();
    await expect(late).toBeHidden();
  });

  test('has keys for sound, pause and now', async ({ page }) => {
    await page.goto(onAir.watch);
    await page.getByRole('button', { name: 'Turn the sound on' }).click();
    await page.getByRole('button', { name: 'Fill the screen' }).focus();
    await page.keyboard.press('m');
    await expect(page.getByRole('button', { name: 'Sound is off' })).toBeVisible();
    await page.keyboard.press('m');
    await expect(page.getByRole('button', { name: 'Sound', exact: true })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
  });

  test('sees a planned event’s date, in plain words, and no chat to write in yet', async ({ page }) => {
    await page.goto(`${access.console}/watch/gig-rowing-regatta-finals`);
    await expect(page.getByText(/We start .*13:00, with a short film first\./)).toBeVisible();
    await page.getByRole('button', { name: 'Chat', exact: false }).click();
    await expect(page.getByText('The chat opens with the doors.')).toBeVisible();
  });

  test('is told when the house cannot be reached, and the page goes on by itself', async ({
    page,
    context,
  }) => {
    await page.goto(`${access.console}/watch/gig-rowing-regatta-finals`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await context.setOffline(true);
    await expect(page.getByText('We cannot be reached at the moment')).toBeVisible();
    await context.setOffline(false);
    await expect(page.getByText('We cannot be reached at the moment')).toBeHidden();
  });
});
