import { expect, test } from '@playwright/test';
import { CHROMIUM_WITH_CAMERA } from '../chromium.js';
import { keepCalling } from '../keep-calling.js';
import { access, api, expectAccessible, hold, signIn, standin } from './house.js';
import { addSource, end, goOnAir, own, planEvent, type SourceView } from './own-event.js';

test.use({ launchOptions: CHROMIUM_WITH_CAMERA });

test('a box is paired by the code it shows, and goes on air without a key typed', async ({ page }) => {
  const name = own('Gallery');
  const at = `/boxes/${encodeURIComponent(name)}`;
  await standin(`${at}/on`, {});
  await expect.poll(async () => (await standin<{ shows: string }>(at)).shows).toBe('code');
  const { code } = await standin<{ code: string }>(at);
  await signIn(page);
  await page.goto(`${access.console}/sources`);
  await page.getByRole('button', { name: 'Pair a box' }).click();
  await page.getByLabel('Code on the box’s screen').fill('BCDF GHJK');
  await page.getByLabel('Name of the box').fill(name);
  await page.getByRole('button', { name: 'Pair the box' }).click();
  await expect(page.getByText('No box is showing this code.', { exact: false })).toBeVisible();
  await page.getByLabel('Code on the box’s screen').fill(code.toLowerCase());
  await page.getByRole('button', { name: 'Pair the box' }).click();
  const box = page.getByRole('listitem', { name });
  await expect(box).toContainText('ready, picture and sound plugged in');
  await expectAccessible(page);

  const source = (await api<{ items: SourceView[] }>('/sources?limit=200')).items.find(
    (one) => one.name === name,
  )!;
  const event = await planEvent('From the gallery', source.id);
  await standin(`${at}/start`, {});
  await goOnAir(page, event);
  await expect(page.getByText(`Viewers see the ${name}.`)).toBeVisible();
  await end(event);

  await page.goto(`${access.console}/sources`);
  await box.getByRole('button', { name: 'Rename or disconnect' }).click();
  const isPaired = async (): Promise<boolean> =>
    (await api<{ items: { name: string }[] }>('/boxes?limit=200')).items.some((one) => one.name === name);
  expect(await isPaired()).toBe(true);
  await hold(page, 'Disconnect the box: hold', async () => !(await isPaired()));
  await expect(box).toBeHidden();
  await expect.poll(async () => (await standin<{ shows: string }>(at)).shows).toBe('code');
  await standin(`${at}/off`, {});
});

test('a source is given another ingest point, and arrives there', async ({ page }) => {
  const name = own('Bell loft');
  const source = await addSource(name);
  await signIn(page);
  await page.goto(`${access.console}/sources`);
  const row = page.getByRole('listitem').filter({ hasText: name });
  await row.getByRole('button', { name: 'Address and key' }).click();
  const quay = await row.getByLabel('Address', { exact: true }).inputValue();
  await expect(row.getByText(/^(less than 1|\d+) ms from here/)).toHaveCount(2);
  await expectAccessible(page);
  await row.getByRole('radio', { name: /Hill House/ }).check();
  await expect(row.getByLabel('Address', { exact: true })).not.toHaveValue(quay);
  await expect(row.getByLabel(/Second address, at Quay House/)).toHaveValue(quay);

  const key = await api<object>(`/sources/${source.id}/key`);
  const at = `/encoders/${encodeURIComponent(name)}`;
  await standin(`${at}/start`, key);
  await expect(row.getByText(/over RTMP, from .*, at Hill House/).first()).toBeVisible();
  // Others may send there too, whose nearest point it is.
  await expect(page.getByRole('listitem', { name: 'Hill House' })).toContainText(/[1-9]\d* sources?/);
  await standin(`${at}/stop`, {});
  await expect(row.getByText(/stopped sending|lost its connection/)).toBeVisible();
});

test('the upload is measured, and what arrives is held against the advice', async ({ page }) => {
  await signIn(page);
  await page.goto(`${access.console}/sources`);
  const row = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'Pier camera' }) });
  await row.getByRole('button', { name: 'Address and key' }).click();
  await row.getByRole('button', { name: 'Measure the upload from here' }).click();
  await expect(row.getByText(/This connection manages [\d.]+ Mbit\/s/)).toBeVisible();
  const compared = row.getByRole('region', { name: 'Compared with the recommended settings' });
  await expect(compared).toContainText('KeyframesAs recommended.');
  await expect(compared).toContainText('Set 1920 × 1080.');
  await row.getByText('All sizes and what they need').click();
  await row.getByRole('button', { name: 'Recommend 1280 × 720, 30' }).click();
  await expect(compared).toContainText('PictureAs recommended.');
});

test('an encoder over SRT is in the desk with its line’s figures', async ({ page }) => {
  const source = await addSource(own('Lighthouse'));
  await api(`/sources/${source.id}`, {
    method: 'PATCH',
    headers: { 'if-match': `"${source.version}"` },
    body: JSON.stringify({ srt: { latencyMs: 2000 } }),
  });
  const { srt } = await api<{ srt: { address: string; passphrase: string } }>(`/sources/${source.id}/key`);
  const event = await planEvent('From the lighthouse', source.id);
  const picture = '-re -f lavfi -i testsrc2=size=640x360:rate=25 -re -f lavfi -i sine=frequency=440';
  const code = '-c:v libx264 -preset ultrafast -g 50 -pix_fmt yuv420p -c:a aac -ac 2 -f mpegts';
  const address = `${srt.address}?passphrase=${srt.passphrase}&pbkeylen=16`;
  const hangUp = keepCalling([...`${picture} ${code}`.split(' '), address]);
  try {
    await signIn(page);
    await goOnAir(page, event);
    await expect(page.getByText(`Viewers see the ${source.name}.`)).toBeVisible();
    await page.goto(`${access.console}/events/${event.id}/connect`);
    await expect(page.getByText(/ms round trip, nothing lost/)).toBeVisible();
    await expect(page.getByText('over SRT', { exact: false }).first()).toBeVisible();
    await end(event);
  } finally {
    hangUp();
  }
});

test('an encoder that speaks WHIP is in the desk too', async ({ page, browser }) => {
  const source = await addSource(own('Quay walk'));
  const { whip, key } = await api<{ whip: string; key: string }>(`/sources/${source.id}/key`);
  const event = await planEvent('A walk along the quay', source.id);
  const caller = await (await browser.newContext({ permissions: ['camera', 'microphone'] })).newPage();
  // The front page of the stand-ins loads itself again and again; this one stays.
  await caller.goto(`${access.standins}/platform/streams`);
  const status = await caller.evaluate(
    async ({ whip, key }) => {
      const stream = await navigator.mediaDevices.getUserMedia({ video: { width: 640 }, audio: true });
      const peer = new RTCPeerConnection();
      Object.assign(window, { peer });
      for (const track of stream.getTracks())
        peer.addTransceiver(track, { direction: 'sendonly', streams: [stream] });
      await peer.setLocalDescription();
      const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/sdp' };
      const answer = await fetch(whip, { method: 'POST', headers, body: peer.localDescription!.sdp });
      await peer.setRemoteDescription({ type: 'answer', sdp: await answer.text() });
      return answer.status;
    },
    { whip, key },
  );
  expect(status).toBe(201);
  await signIn(page);
  await goOnAir(page, event);
  await expect(page.getByText(`Viewers see the ${source.name}.`)).toBeVisible();
  await page.goto(`${access.console}/events/${event.id}/connect`);
  await expect(page.getByText('over WHIP', { exact: false }).first()).toBeVisible();
  await end(event);
});

test('the hall shows what viewers get of the chapel, and would never show itself', async ({ page }) => {
  const name = own('The chapel in the hall');
  await signIn(page);
  await page.goto(`${access.console}/sources`);
  await page.getByRole('button', { name: 'Add a source' }).click();
  await page.getByLabel('Name of the source').fill(name);
  await page.getByLabel('Where its picture comes from').selectOption('programme');
  const programme = page.getByLabel('Whose programme');
  const harbour = await programme
    .getByRole('option', { name: /^Harbour Blessing/ })
    .first()
    .getAttribute('value');
  await programme.selectOption(harbour);
  await page.getByRole('button', { name: 'Add the source' }).click();
  const row = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name }) });
  await expect(row).toContainText('shows what viewers see of “Harbour Blessing”');
  await expect(row).toContainText('with sound');
  const sources = (await api<{ items: SourceView[] }>('/sources?limit=200')).items;
  const event = await planEvent('In the hall', sources.find((one) => one.name === name)!.id);
  await goOnAir(page, event);
  await expect(page.getByText(`Viewers see the ${name}.`)).toBeVisible();
  await end(event);
});
