import { expect, test } from '@playwright/test';
import { access, api, expectAccessible, signIn, standin } from './house.js';
import { addSource, end, goOnAir, own, planEvent } from './own-event.js';

const PHONE = { width: 390, height: 844 };

/** The house speaks English again, whatever went wrong. */
test.afterEach(async ({ page }) => {
  const { version, language } = await api<{ version: number; language: string }>('/house');
  if (language === 'en-GB') return;
  const headers = { 'if-match': `"${version}"`, origin: access.console };
  await page.request.patch(`${access.api}/house`, { headers, data: { language: 'en-GB' } });
});

test('Welsh from end to end: chosen in the console, waited in, watched, talked in, and seen again', async ({
  page,
  browser,
}) => {
  const source = await addSource(own('Vestry'));
  const event = await planEvent(own('Plygain'), source.id);
  await signIn(page, 'owner');

  await test.step('the owner sees a page in Welsh before anybody else does', async () => {
    await page.goto(`${access.console}/house/language`);
    const seen = page.frameLocator('iframe');
    await expect(seen.locator('html')).toHaveAttribute('lang', 'en-GB');
    await page.getByLabel('Language of your pages').selectOption({ label: 'Cymraeg' });
    await page.getByLabel('See the page').selectOption('doors');
    await expect(seen.getByText('Mae’r dudalen hon yn dechrau ar ei phen ei hun.')).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Use this language' }).click();
    await expect(page.getByText('Your pages speak Cymraeg now.')).toBeVisible();
  });

  const visitor = await browser.newContext({ viewport: PHONE });
  const viewer = await visitor.newPage();
  await test.step('a viewer waits, with days and hours in Welsh', async () => {
    await viewer.goto(`${access.console}/watch/${event.slug}`);
    await expect(viewer.locator('html')).toHaveAttribute('lang', 'cy');
    await expect(viewer.getByRole('timer', { name: /awr i fynd/ })).toBeVisible();
    await expect(viewer.getByRole('link', { name: 'Ychwanegu at fy nghalendr' })).toBeVisible();
    await expectAccessible(viewer);
  });

  await test.step('it goes on air; the player and the chat speak Welsh', async () => {
    const key = await api<object>(`/sources/${source.id}/key`);
    await standin(`/encoders/${encodeURIComponent(source.name)}/start`, key);
    await goOnAir(page, event);
    await expect(viewer.getByRole('group', { name: /^Chwaraewr/ })).toHaveAttribute('data-state', 'playing');
    await viewer.getByRole('button', { name: /^Sgwrs/ }).click();
    await viewer.getByLabel('Eich enw').fill('Nia');
    await viewer.getByLabel(/Rwy’n cadw at reolau’r tŷ/).check();
    await viewer.getByRole('button', { name: 'Ymuno â’r sgwrs' }).click();
    await viewer.getByLabel('Dweud rhywbeth fel Nia').fill('Bore da');
    await viewer.getByRole('button', { name: 'Anfon', exact: true }).click();
    await expect(viewer.getByRole('listitem').filter({ hasText: 'Bore da' })).toBeVisible();
    await viewer.getByRole('button', { name: 'Dim sain? Dim llun?' }).click();
    await viewer.getByRole('button', { name: 'Y llun', exact: true }).click();
    await expect(
      viewer.getByText('Does dim byd o’i le.').or(viewer.getByText('Pwyswch Chwarae')),
    ).toBeVisible();
    await expectAccessible(viewer);
  });

  await test.step('an embed speaks it too', async () => {
    const embed = await visitor.newPage();
    await embed.goto(`${access.console}/embed/${event.slug}`);
    await expect(embed.getByRole('group', { name: /^Chwaraewr/ })).toBeVisible();
    await embed.close();
  });

  await test.step('and the replay', async () => {
    await end(event);
    await standin(`/encoders/${encodeURIComponent(source.name)}/stop`, {});
    await expect(viewer.getByText(/^ailddangosiad dydd/i)).toBeVisible();
    await expect(viewer.getByLabel('Cyflymder')).toBeVisible();
  });
  await visitor.close();
});

test('another language is made as a file, tried on the page, told what is wrong with it, and kept', async ({
  page,
}) => {
  await signIn(page, 'owner');
  await page.goto(`${access.console}/house/language`);
  const downloading = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download English as a file' }).click();
  const download = await downloading;
  const stream = await download.createReadStream();
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(chunk as Buffer);
  const english = JSON.parse(Buffer.concat(chunks).toString()) as { words: Record<string, string> };
  const arabic = {
    ...english,
    tag: 'ar',
    name: 'العربية',
    words: {
      ...english.words,
      'help.title': 'لا صوت؟ لا صورة؟',
      'page.largerText': 'نص أكبر',
      'event.wasOn': 'كان {gone}',
    },
  };
  const choose = (text: string): Promise<void> =>
    page
      .getByLabel('Choose a language file')
      .setInputFiles({ name: 'ar.json', mimeType: 'application/json', buffer: Buffer.from(text) });

  await choose(JSON.stringify(arabic, null, 2).replace('"tag"', 'tag'));
  await expect(page.getByText(/something is wrong near line 4/)).toBeVisible();
  await choose(JSON.stringify(arabic));
  await expect(page.getByText('asks for {gone}, which we do not have there')).toBeVisible();
  const seen = page.frameLocator('iframe');
  await expect(seen.locator('html')).toHaveAttribute('dir', 'rtl');
  await expect(seen.getByRole('button', { name: 'نص أكبر' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep العربية' }).click();
  await expect(page.getByText('العربية is kept.')).toBeVisible();
  await page.getByRole('button', { name: 'Remove العربية' }).click();
  await expect(page.getByText('العربية has been removed.')).toBeVisible();
});
