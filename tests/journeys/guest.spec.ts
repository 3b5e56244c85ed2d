import { expect, test, type WebSocketRoute } from '@playwright/test';
import { CHROMIUM_WITH_CAMERA } from '../chromium.js';
import { access, expectAccessible, signIn } from './house.js';
import { addSource, end, goOnAir, own, planEvent } from './own-event.js';

test.use({ launchOptions: CHROMIUM_WITH_CAMERA });

test('a guest sends from a telephone by a link, loses the network for a while, and is back', async ({
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
  await expect(page.getByText(`${source.name} is connected, but nothing is arriving.`)).toBeVisible();
  await expect(page.getByText('Viewers see the slate.')).toBeVisible();
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
