import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { UPLOAD_CHUNK_BYTES } from '@heliphon/contracts/files';
import { access, api, eventOf, onAir, signIn } from './house.js';

const FILM_SECONDS = 40;
let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'heliphon-journey-'));
});
test.afterAll(() => rmSync(folder, { recursive: true }));

/** A film that is sent in several pieces. */
function makeFilm(name: string): string {
  const path = join(folder, name);
  const picture = `-f lavfi -i testsrc2=size=640x360:rate=25:duration=${FILM_SECONDS}`;
  const sound = `-f lavfi -i sine=frequency=660:sample_rate=48000:duration=${FILM_SECONDS}`;
  const code =
    '-c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 50 -b:v 5M -minrate 5M -maxrate 5M -bufsize 5M';
  const rest = '-x264-params nal-hrd=cbr -c:a aac -ac 2';
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...`${picture} ${sound} ${code} ${rest}`.split(' '), path]);
  return path;
}

test('a film whose upload is cut off goes on by itself, and the next event begins with it', async ({
  page,
}) => {
  const name = `Bells ${Date.now() % 10_000}.mp4`;
  const path = makeFilm(name);
  await signIn(page);
  await page.goto(`${access.console}/archive/files`);

  // The way breaks after the first piece, and comes back.
  let pieces = 0;
  let isBroken = true;
  await page.route('**/api/uploads/*', (route) => {
    if (route.request().method() === 'PATCH') pieces += 1;
    return isBroken && pieces > 1 ? route.abort() : route.continue();
  });
  await page.getByLabel('Files to upload').setInputFiles(path);
  const sending = page.getByRole('list', { name: 'On its way' }).getByRole('listitem');
  await expect(sending.getByRole('status')).toContainText('carries on from here by itself');
  await expect(sending).toContainText(`${UPLOAD_CHUNK_BYTES / 1e6} MB of`);
  isBroken = false;
  const row = page.getByRole('listitem', { name });
  await expect(row).toContainText('film · 640 × 360 · 40 s');
  await expect(row).toContainText('not used anywhere');
  await expect(sending).toHaveCount(0);

  // Played here as it will be.
  await row.getByRole('button', { name: 'Play it' }).click();
  const video = row.locator('video');
  await expect
    .poll(() => video.evaluate((element: HTMLVideoElement) => element.duration))
    .toBeGreaterThan(39);

  const { sourceId } = await api<{ sourceId: string }>(`/events/${(await eventOf(onAir.slug)).id}`);
  const day = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
  const wish = {
    title: `Vigil ${name}`,
    startsAtLocal: `${day}T20:00`,
    stopsAtLocal: `${day}T21:00`,
    sourceId,
  };
  const event = await api<{ id: string; slug: string }>('/events', {
    method: 'POST',
    body: JSON.stringify(wish),
  });
  await page.goto(`${access.console}/events/${event.id}/plan`);
  await page.getByRole('button', { name: 'Choose a film' }).click();
  await page.getByRole('dialog').getByRole('button', { name }).click();
  const field = page.getByRole('group', { name: 'Opening film' });
  await expect(field).toContainText('goes on air 40 s before the start');
  const filmMs = async (): Promise<number> => (await api<{ filmMs: number }>(`/events/${event.id}`)).filmMs;
  await expect.poll(filmMs).toBeGreaterThan(39_000);

  await page.goto(`${access.console}/archive/files`);
  await expect(row).toContainText(`film of ${wish.title}`);
  await row.getByRole('button', { name: 'Put it in the bin' }).click();
  await expect(row.getByRole('alert')).toContainText('uses this file. Choose another there first.');

  // On air it is what viewers see, until the desk has seen enough of it.
  const isAtNode = async (): Promise<boolean> => {
    const { checks } = await api<{ checks: { code: string; status: string }[] }>(
      `/events/${event.id}/readiness`,
    );
    return checks.some(({ code, status }) => code === 'film' && status === 'passed');
  };
  await expect.poll(isAtNode).toBe(true);
  await page.goto(`${access.console}/events/${event.id}/air`);
  const goOn = page.getByRole('button', { name: 'Go on air: hold' });
  await goOn.focus();
  await page.keyboard.down('Enter');
  await expect(page.getByText('Viewers see the opening film.')).toBeVisible();
  await page.keyboard.up('Enter');
  const viewer = await (await page.context().browser()!.newContext()).newPage();
  await viewer.goto(`${access.console}/watch/${event.slug}`);
  const shown = viewer.locator('video');
  await expect.poll(() => shown.evaluate((element: HTMLVideoElement) => element.videoWidth)).toBe(640);
  await page.getByRole('button', { name: 'Cut to the live picture now' }).click();
  await expect(page.getByText('Viewers see the Pier camera.')).toBeVisible();
  await expect.poll(() => shown.evaluate((element: HTMLVideoElement) => element.videoWidth)).toBe(1280);
  await api(`/events/${event.id}/end`, {
    method: 'POST',
    body: JSON.stringify({ commandId: crypto.randomUUID(), fromState: 'air' }),
  });
  await viewer.context().close();
});

test('what is no film says so, and what to do; it can be thrown away, and had back', async ({ page }) => {
  const name = `notes ${Date.now() % 10_000}.mp4`;
  writeFileSync(join(folder, name), 'These are only words.');
  await signIn(page);
  await page.goto(`${access.console}/archive/files`);
  await page.getByLabel('Files to upload').setInputFiles(join(folder, name));
  const row = page.getByRole('listitem', { name });
  await expect(row).toContainText('We could not read this as a picture, video or sound');
  await row.getByRole('button', { name: 'Put it in the bin' }).click();
  await expect(row).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row).toBeVisible();

  // What is too large is told before a byte is sent.
  const large = join(folder, 'poster.jpg');
  writeFileSync(large, Buffer.alloc(15_000_001));
  await page.getByLabel('Files to upload').setInputFiles(large);
  await expect(page.getByRole('list', { name: 'On its way' })).toContainText('the limit is 15 MB');
});

test('a draft is published, stands on its channel’s page, and that page is found from its event', async ({
  page,
  browser,
}) => {
  const title = `Harbour supper ${Date.now() % 10_000}`;
  await signIn(page);
  await page.getByRole('button', { name: 'Plan an event' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Title').fill(title);
  await dialog.getByLabel('Channel').selectOption('Hall');
  await dialog.getByRole('button', { name: 'Keep as a draft' }).click();
  const draft = page.getByRole('region', { name: 'Draft' });
  await expect(draft).toContainText('Only your team can see it');

  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(`${access.console}/channel/hall`);
  await expect(visitor.getByRole('heading', { level: 1, name: 'Hall' })).toBeVisible();
  await expect(visitor.getByText(title)).toHaveCount(0);
  await draft.getByRole('button', { name: 'Publish the event' }).click();
  await expect(draft).toHaveCount(0);
  await visitor.reload();
  await visitor.getByRole('region', { name: 'Coming' }).getByRole('link', { name: title }).click();
  await expect(visitor.getByRole('heading', { level: 1, name: title })).toBeVisible();
  await visitor.getByRole('link', { name: 'More from Hall' }).click();
  await expect(visitor.getByRole('region', { name: 'Watch again' })).toContainText(
    'Shanty Quiz, first round',
  );

  // One channel, or all.
  await page.goto(`${access.console}/?view=list`);
  await page.getByLabel('Which channel').selectOption('Hall');
  await expect(page).toHaveURL(/channelId=/);
  await expect(page.getByText(title)).toBeVisible();
  await expect(page.getByRole('main').getByText('Harbour Blessing')).toHaveCount(0);
  await visitor.context().close();
});
