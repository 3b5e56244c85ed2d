import { expect, test } from '@playwright/test';
import { access, api, expectAccessible, signIn, standin } from './house.js';
import { addSource, end, goOnAir, own, planEvent, type SourceView } from './own-event.js';

const encoder = (source: SourceView, action: string, order: object = {}) =>
  standin(`/encoders/${encodeURIComponent(source.name)}/${action}`, order);
const startEncoder = async (source: SourceView): Promise<unknown> =>
  encoder(source, 'start', await api<object>(`/sources/${source.id}/key`));

test('two sources at one desk: by hand, by itself, noted, seen on the wall, and told in the report', async ({
  page,
  context,
}) => {
  const [nave, gallery] = [await addSource(own('Nave')), await addSource(own('Gallery'))];
  const event = await planEvent(own('Candlelight'), nave.id);
  await signIn(page);

  await test.step('the second is chosen in Plan', async () => {
    await page.goto(`${access.console}/events/${event.id}/plan`);
    await page.getByLabel('Second source, to stand by').selectOption({ label: gallery.name });
    await expect(page.getByLabel('Takes over after, s')).toHaveValue('1');
    await expect
      .poll(async () => (await api<{ standbySourceId: string }>(`/events/${event.id}`)).standbySourceId)
      .toBe(gallery.id);
    await startEncoder(nave);
    await startEncoder(gallery);
    await goOnAir(page, event);
    await expect(page.getByText(`Viewers see the ${nave.name}.`)).toBeVisible();
  });

  await test.step('X switches to it and back', async () => {
    const standby = page.getByRole('region', { name: `${gallery.name} stands by` });
    await expect(standby.getByRole('button')).toBeEnabled();
    await page.keyboard.press('x');
    await expect(page.getByText(`Viewers see the ${gallery.name}.`)).toBeVisible();
    const back = page.getByRole('region', { name: `${nave.name} stands by` });
    await expect(back).toContainText('chosen by hand');
    await back.getByRole('button', { name: `Switch to it: ${nave.name}` }).click();
    await expect(page.getByText(`Viewers see the ${nave.name}.`)).toBeVisible();
  });

  await test.step('nothing scrolls away, on a small screen neither', async () => {
    for (const [width, height] of [
      [1024, 768],
      [1280, 800],
    ] as const) {
      await page.setViewportSize({ width, height });
      for (const part of ['Answer as', 'How much is saved'])
        await expect(page.getByLabel(part)).toBeInViewport({ ratio: 1 });
      const inAll = page.evaluate(() => document.documentElement.scrollHeight);
      expect(await inAll).toBe(height);
    }
  });

  await test.step('Q shows the quick picture beside what viewers have, sooner than they have it', async () => {
    const behind = async (name: string): Promise<number> => {
      const words = await page.getByRole('figure').filter({ hasText: name }).textContent();
      return Number(/([\d.]+) s behind/.exec(words ?? '')?.[1]);
    };
    await page.keyboard.press('q');
    await expect(page.getByLabel(`Quick picture of ${event.title}`)).toBeVisible();
    await expect
      .poll(async () => (await behind('Quick picture')) < (await behind('What viewers have')))
      .toBe(true);
    await page.getByRole('button', { name: 'Put it away' }).click();
    await expect(page.getByLabel(`Quick picture of ${event.title}`)).toBeHidden();
  });

  await test.step('N takes a note', async () => {
    await page.keyboard.press('n');
    const line = page.getByLabel(/^Note at 0:0\d:\d\d$/);
    await expect(line).toBeFocused();
    await expect(line).toHaveValue('');
    await line.fill('organ too loud here');
    await line.press('Enter');
    await expect(line).toBeHidden();
  });

  await test.step('S saves what was just shown: a page that plays, found in Keep while the event runs', async () => {
    await page.getByLabel('How much is saved').selectOption('10 s');
    await page.getByRole('heading', { level: 1 }).click();
    await page.keyboard.press('s');
    await expect(page.getByText(new RegExp(`^Saved: ${event.title}, \\d`))).toBeVisible();
    const opened = context.waitForEvent('page');
    await page.getByRole('button', { name: 'Watch it' }).click();
    const clip = await opened;
    await expect(clip.getByText('A clip of')).toBeVisible();
    await expect(clip.getByRole('group', { name: /Player/ })).toHaveAttribute('data-state', 'playing');
    await clip.close();
    await page.goto(`${access.console}/events/${event.id}/keep`);
    const clips = page.getByRole('region', { name: 'Clips' });
    await expect(clips.getByLabel(/^Address of its page/)).toHaveValue(/\/watch\//);
    const file = page.waitForEvent('download');
    await clips.getByRole('link', { name: 'Download' }).click();
    expect((await file).suggestedFilename()).toMatch(/\.mp4$/);
    await expectAccessible(page);
    await page.goBack();
    await expect(page.getByText(`Viewers see the ${nave.name}.`)).toBeVisible();
  });

  await test.step('the first loses its line: the second takes over, and the wall says why', async () => {
    await encoder(nave, 'stop');
    await expect(page.getByText(`Viewers see the ${gallery.name}.`)).toBeVisible();
    await expect(
      page.getByText(new RegExp(`${nave.name} (has lost its connection|has stopped sending)`)),
    ).toBeVisible();
    const wall = await context.newPage();
    await wall.goto(`${access.console}/wall`);
    const tile = wall.getByRole('listitem').filter({ hasText: nave.name });
    await expect(tile).toContainText(/has lost its connection|has stopped sending/);
    await expectAccessible(wall);
    await wall.close();
  });

  await test.step('neither is there: the slate, until one comes back', async () => {
    await encoder(gallery, 'stop');
    await expect(page.getByText('Viewers see the slate.')).toBeVisible();
    await startEncoder(nave);
    await expect(page.getByText(`Viewers see the ${nave.name}.`)).toBeVisible();
  });

  await test.step('afterwards the report has it all, and a note becomes a chapter', async () => {
    await end(event);
    await encoder(nave, 'stop');
    await page.goto(`${access.console}/events/${event.id}/keep`);
    await page.getByRole('link', { name: 'Read the signal report' }).click();
    const wrong = page.getByRole('region', { name: 'What went wrong' });
    await expect(wrong).toContainText(
      new RegExp(`${nave.name} (lost its connection|stopped sending|was connected, but nothing arrived)`),
    );
    await expect(wrong).toContainText(`${gallery.name} took over.`);
    await expect(wrong).toContainText('Viewers saw the slate for');
    const notes = page.getByRole('region', { name: 'Notes' });
    await notes.getByRole('button', { name: /^Make it a chapter/ }).click();
    await expect(notes.getByRole('button', { name: /A chapter of the replay/ })).toBeVisible();
    const { chapters } = await api<{ chapters: { title: string }[] }>(`/public/events/${event.slug}/order`);
    expect(chapters.map(({ title }) => title)).toEqual(['organ too loud here']);
    await expectAccessible(page);
    const table = await page.request.get(`${access.console}/api/events/${event.id}/signal.csv`);
    expect((await table.text()).split('\r\n').length).toBeGreaterThan(10);
  });
});

test('a webhook is told of a fault as it begins, and its deliveries are shown', async ({ page }) => {
  await signIn(page, 'owner');
  await page.goto(`${access.console}/house/access`);
  const panel = page.getByRole('region', { name: 'Webhook', exact: true });
  await panel.getByLabel('Address').fill(`${access.standins}/board/post`);
  await panel.getByRole('button', { name: 'Use this address' }).click();
  await panel.getByRole('button', { name: 'Send a message to try it' }).click();
  await expect(panel.getByRole('listitem').filter({ hasText: 'To try it' })).toContainText('delivered');
  await panel.getByRole('button', { name: 'Make a new secret' }).click();
  await expect(panel.getByRole('textbox', { name: 'Secret' })).toHaveValue(/^whsec_/);
  await expectAccessible(page);
  await panel.getByRole('button', { name: 'Stop using it' }).click();
  await expect(panel.getByRole('button', { name: 'Use this address' })).toBeVisible();
});
