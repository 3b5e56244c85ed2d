import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { expect, type Page, test, type WebSocketRoute } from '@playwright/test';
import { CHROMIUM_WITH_CAMERA } from '../chromium.js';
import { access, api, expectAccessible, hold, signIn, standin } from './house.js';

test.use({ launchOptions: CHROMIUM_WITH_CAMERA });

interface EventView {
  readonly id: string;
  readonly slug: string;
  readonly state: string;
}
interface SourceView {
  readonly id: string;
  readonly name: string;
  readonly version: number;
}

/** What is added stays: a second try adds its own. */
const own = (name: string): string => `${name} ${Date.now() % 100_000}`;

const addSource = (name: string): Promise<SourceView> =>
  api('/sources', { method: 'POST', body: JSON.stringify({ name }) });

/** An event of this evening with a source. */
async function planEvent(title: string, sourceId: string): Promise<EventView> {
  const day = new Date(Date.now() + 20 * 3_600_000).toISOString().slice(0, 10);
  const body = { title, startsAtLocal: `${day}T21:00`, stopsAtLocal: `${day}T22:00`, sourceId };
  return api('/events', { method: 'POST', body: JSON.stringify(body) });
}

/** On air by the desk, without waiting for its time. */
async function goOnAir(page: Page, { id }: EventView): Promise<void> {
  await page.goto(`${access.console}/events/${id}/air`);
  await page.getByRole('button', { name: 'Open the doors' }).click();
  await expect(page.getByText('People see the countdown', { exact: false })).toBeVisible();
  await hold(page, 'Go on air: hold');
}

const end = (event: EventView): Promise<unknown> =>
  api(`/events/${event.id}/end`, {
    method: 'POST',
    body: JSON.stringify({ commandId: randomUUID(), fromState: 'air' }),
  });

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
  await hold(page, 'Disconnect the box: hold');
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

test('a guest sends from a telephone by a link, loses the network for eight seconds, and is back', async ({
  page,
  browser,
}) => {
  const source = await addSource(own('Pier telephone'));
  const event = await planEvent('Blessing of the boats', source.id);
  await signIn(page);
  await page.goto(`${access.console}/events/${event.id}/connect`);
  await page.getByRole('button', { name: 'Invite a guest' }).click();
  await page.getByLabel('Guest’s name').fill('Una');
  await page.getByRole('button', { name: 'Make the link' }).click();
  const link = await page.getByLabel('Link', { exact: true }).inputValue();

  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const guest = await phone.newPage();
  let isAway = false;
  let dials = 0;
  const sockets = new Set<WebSocketRoute>();
  await guest.routeWebSocket(/\/send\/v1$/, (socket) => {
    if (isAway) return void socket.close();
    dials += 1;
    // The node may not have heard yet of a link that was opened a moment ago.
    if (dials <= 2) return socket.onMessage(() => socket.send('{"type":"refused","reason":"unknown-line"}'));
    sockets.add(socket);
    socket.connectToServer();
  });
  await guest.goto(link);
  await guest.getByRole('button', { name: 'Start camera and microphone' }).click();
  await expectAccessible(guest);
  await guest.getByRole('button', { name: 'Send my picture' }).click();
  await expect(guest.getByText('We are receiving your picture. Viewers cannot see it yet.')).toBeVisible();
  await goOnAir(page, event);
  await expect(guest.getByText('You are on air: viewers see and hear you.')).toBeVisible();

  isAway = true;
  for (const socket of sockets) await socket.close();
  await expect(guest.getByText('Your connection has dropped.', { exact: false })).toBeVisible();
  await expect(page.getByText(`${source.name} is not sending anything.`)).toBeVisible();
  await guest.evaluate(() => new Promise((resolve) => setTimeout(resolve, 4000)));
  isAway = false;
  await expect(guest.getByText('You are on air: viewers see and hear you.')).toBeVisible();
  await expect(page.getByText(`Viewers see the ${source.name}.`)).toBeVisible();
  await expect(page.getByText(/Viewers saw the slate .*, for .* in all/)).toBeVisible();

  const second = await (await browser.newContext()).newPage();
  await second.goto(link);
  await expect(
    second.getByText('This link has already been opened on another device', { exact: false }),
  ).toBeVisible();
  await end(event);
  await expect(guest.getByText('“Blessing of the boats” has finished.', { exact: false })).toBeVisible();
  await phone.close();
});

test('the upload is measured, and what arrives is held against the advice', async ({ page }) => {
  await signIn(page);
  await page.goto(`${access.console}/sources`);
  const row = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'Pier camera' }) });
  await row.getByRole('button', { name: 'Address and key' }).click();
  await row.getByRole('button', { name: 'Measure the upload from here' }).click();
  await expect(row.getByText(/This connection manages [\d.]+ Mbit\/s/)).toBeVisible({ timeout: 30_000 });
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
    body: JSON.stringify({ srt: {} }),
  });
  const { srt } = await api<{ srt: { address: string; passphrase: string } }>(`/sources/${source.id}/key`);
  const event = await planEvent('From the lighthouse', source.id);
  const picture = '-re -f lavfi -i testsrc2=size=640x360:rate=25 -re -f lavfi -i sine=frequency=440';
  const code = '-c:v libx264 -preset ultrafast -g 50 -pix_fmt yuv420p -c:a aac -ac 2 -f mpegts';
  const address = `${srt.address}?passphrase=${srt.passphrase}&pbkeylen=16`;
  const caller = spawn('ffmpeg', ['-v', 'error', ...`${picture} ${code}`.split(' '), address], {
    stdio: 'ignore',
  });
  try {
    await signIn(page);
    await goOnAir(page, event);
    await expect(page.getByText(`Viewers see the ${source.name}.`)).toBeVisible();
    await page.goto(`${access.console}/events/${event.id}/connect`);
    await expect(page.getByText(/ms round trip, nothing lost/)).toBeVisible();
    await expect(page.getByText('over SRT', { exact: false }).first()).toBeVisible();
    await end(event);
  } finally {
    caller.kill('SIGKILL');
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
  await expect(page.getByText(`Viewers see the ${source.name}.`)).toBeVisible({ timeout: 30_000 });
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
