import { expect, type Page, test } from '@playwright/test';
import type { SignalView } from '@heliphon/contracts/signal';
import { api, enterRoom, expectPlaysWithSound, hold, signIn, standin } from './house.js';
import { type EventView, stateOf } from './own-event.js';

interface Received {
  readonly streamName: string;
  readonly isLive: boolean;
  readonly connections: number;
  readonly receivedBytes: number;
}

const TITLE = `Choir rehearsal ${Date.now() % 10_000}`;
const ENCODER = 'tower';
/** Of the demo film, from one keyframe to the next. */
const GROUP_MS = 2000;

async function readField(page: Page, label: string): Promise<string> {
  return page.getByLabel(label, { exact: true }).inputValue();
}

test('one service goes out, from the lens to the replay', async ({ page: desk, browser }) => {
  await signIn(desk);

  await test.step('plan an event', async () => {
    await desk.getByRole('button', { name: 'Plan an event' }).click();
    const dialog = desk.getByRole('dialog');
    await dialog.getByLabel('Title').fill(TITLE);
    await dialog.getByLabel('Starts').fill('23:00');
    await dialog.getByLabel('Stops').fill('22:00');
    await dialog.getByLabel('Where the picture comes from').selectOption('Tower box');
    await dialog.getByRole('button', { name: 'Plan the event' }).click();
    await expect(desk.getByRole('heading', { level: 1, name: TITLE })).toBeVisible();
    await desk.getByLabel('Description').fill('Anthem and psalm, run through twice.');
    await desk.getByRole('button', { name: 'Coast relay' }).click();
    await expect(desk.getByRole('button', { name: 'Coast relay' })).toHaveAttribute('aria-pressed', 'true');
    await expect(desk.getByText('saved', { exact: true })).toBeVisible();
    await expect(desk.getByRole('complementary', { name: 'Ready to go on air?' })).toContainText(
      'There is no poster',
    );
  });
  const origin = new URL(desk.url()).origin;
  const id = /events\/([0-9a-f-]{36})/.exec(desk.url())![1]!;
  const { slug } = await api<EventView>(`/events/${id}`);

  await test.step('connect the encoder with the address and key shown', async () => {
    await desk
      .getByRole('navigation', { name: 'Stages' })
      .getByRole('link', { name: /Connect/ })
      .click();
    const order = { address: await readField(desk, 'Address'), key: await readField(desk, 'Key') };
    await standin(`/encoders/${ENCODER}/start`, order);
    await expect(desk.getByText(/1280 × 720, [\d.]+ fps/)).toBeVisible();
    await expect(desk.getByRole('img', { name: 'Newest picture of Tower box' })).toBeVisible();
  });

  const viewer = await (await browser.newContext()).newPage();
  await test.step('the public page shows the date, then the countdown when the doors open', async () => {
    await viewer.goto(`${origin}/watch/${slug}`);
    await expect(viewer.getByText('This page starts by itself.')).toBeVisible();
    await viewer.evaluate(() => Object.assign(window, { marker: 'the same page' }));
    await desk.goto(`${origin}/events/${id}/air`);
    await desk.getByRole('button', { name: 'Open the doors' }).click();
    await expect(viewer.getByRole('timer')).toBeVisible();
    await expect(viewer.getByText('We start at 23:00')).toBeVisible();
  });

  await test.step('on air, by holding', async () => {
    await hold(desk, 'Go on air: hold', async () => (await stateOf(id)) === 'air');
    await expect(desk.getByText(/^On air \d/).first()).toBeVisible();
    await viewer.getByRole('button', { name: 'Turn the sound on' }).click();
    // The desk's own monitor would take half of a small machine: it is put away while the viewer's frames are counted.
    await enterRoom(desk, 'Archive');
    await expectPlaysWithSound(viewer.locator('video'));
    await desk.goBack();
    await expect(desk.getByText('Viewers see the Tower box.')).toBeVisible();
  });

  await test.step('people chat, and a moderator hides a message', async () => {
    await viewer.getByRole('button', { name: /^Chat/ }).click();
    await viewer.getByLabel('Your name').fill('Aunt Sib');
    await viewer.getByLabel(/I keep to the house rules/).check();
    await viewer.getByRole('button', { name: 'Join the chat' }).click();
    for (const words of ['How lovely it sounds', 'buy cheap anchors']) {
      await viewer.getByLabel(/Say something/).fill(words);
      await viewer.getByRole('button', { name: 'Send' }).click();
      await expect(desk.getByRole('region', { name: 'Chat' })).toContainText(words);
      await expect(viewer.getByLabel(/Say something/)).toHaveValue('');
    }
    await desk.getByRole('button', { name: 'Hide the message of Aunt Sib' }).last().click();
    await expect(desk.getByText('hidden by Ines Tarrow')).toBeVisible();
    await expect(viewer.getByText('buy cheap anchors')).toBeHidden();
    await expect(viewer.getByText('How lovely it sounds')).toBeVisible();
  });

  const relay = async (): Promise<Received> =>
    (await standin<Received[]>('/platform/streams')).find(
      (stream) => stream.streamName === 'lantern-quay-2',
    )!;
  await test.step('the place receives', async () => {
    await expect(desk.getByRole('region', { name: 'Where it goes' })).toContainText(
      /Coast relay\s*going out/,
    );
    expect((await relay()).isLive).toBe(true);
  });

  const viewersHad = async () => (await api<SignalView>(`/events/${id}/signal`)).viewersHad;
  /** By the server's clock: the record goes as far as now. */
  const nowMs = async (): Promise<number> => (await viewersHad()).at(-1)!.toMs;
  const away = { seenAtMs: 0, overAtMs: 0 };
  await test.step('the encoder is away until it is told to return: viewers and the place have the slate', async () => {
    const before = await relay();
    const shownMs = (): Promise<number> =>
      viewer.locator('video').evaluate((element) => (element as HTMLVideoElement).currentTime * 1000);
    await standin(`/encoders/${ENCODER}/drop`, { seconds: null });
    await expect(desk.getByText('Viewers see the slate.')).toBeVisible();
    away.seenAtMs = await nowMs();
    await expect(desk.getByText('Tower box has lost its connection.')).toBeVisible();
    await expect(desk.getByRole('region', { name: 'Where it goes' })).toContainText(
      /Our website\s*shows the slate/,
    );
    const [slate, fromMs] = [await relay(), await shownMs()];
    await expect.poll(shownMs).toBeGreaterThan(fromMs + 6000);
    await expect.poll(async () => (await relay()).receivedBytes).toBeGreaterThan(slate.receivedBytes);
    await expect(viewer.getByText('The picture will be back.')).toBeHidden();
    away.overAtMs = await nowMs();
    await standin(`/encoders/${ENCODER}/plug-in`, {});
    await expect(desk.getByText('Viewers see the Tower box.')).toBeVisible();
    await expect(desk.getByText(/Viewers saw the slate/)).toBeVisible();
    const slates = (await viewersHad()).filter(({ kind }) => kind === 'slate');
    expect(
      slates.some(({ fromMs, toMs }) => fromMs <= away.seenAtMs && toMs >= away.overAtMs),
      JSON.stringify({ slates, away }),
    ).toBe(true);
    const { receivedBytes, connections } = await relay();
    expect(connections).toBe(before.connections);
    await expect.poll(async () => (await relay()).receivedBytes).toBeGreaterThan(receivedBytes);
  });

  await test.step('it ends, and the same open page plays the replay', async () => {
    await hold(desk, 'End for everyone: hold', async () => (await stateOf(id)) === 'kept');
    await standin(`/encoders/${ENCODER}/stop`, {});
    await expect(viewer.getByRole('group', { name: /Player/ })).toHaveAttribute('data-kind', 'replay');
    expect(await viewer.evaluate(() => (window as never as { marker: string }).marker)).toBe('the same page');
    const video = viewer.locator('video');
    await expect
      .poll(() => video.evaluate((element) => (element as HTMLVideoElement).duration))
      .toBeGreaterThan(5);
    const recordings = await api<{ items: { eventId: string; durationMs: number }[] }>('/recordings');
    const { durationMs } = recordings.items.find((recording) => recording.eventId === id)!;
    const seconds = await video.evaluate((element) => (element as HTMLVideoElement).duration);
    expect(Math.abs(seconds * 1000 - durationMs)).toBeLessThan(2000);
    // What was sent is there, and no slate: to a group of pictures wherever one begins or ends.
    const pictures = (await viewersHad()).filter(({ kind }) => kind === 'picture');
    const picturesMs = pictures.reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0);
    expect(Math.abs(durationMs - picturesMs)).toBeLessThan(2 * GROUP_MS * pictures.length);
    const before = await video.evaluate((element) => (element as HTMLVideoElement).currentTime);
    await expect
      .poll(() => video.evaluate((element) => (element as HTMLVideoElement).currentTime))
      .toBeGreaterThan(before + 2);
  });

  await test.step('the archive has it', async () => {
    await enterRoom(desk, 'Archive');
    await expect(desk.getByRole('link', { name: TITLE })).toBeVisible();
  });
});
