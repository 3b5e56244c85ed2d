import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { openSides, positionIn, seesMore, type Sides, until } from './installation.js';

let sides: Sides;

beforeAll(async () => {
  sides = await openSides();
});
afterEach(async () => {
  await sides.encoder.getByRole('button', { name: 'Send as it should' }).click();
  await deskSays(/1280 × 720.*stereo/);
  await playsOn();
});
afterAll(() => sides.browser.close());

const viewersSound = (): Promise<number> =>
  sides.viewer
    .locator('video')
    .evaluate(
      (video) => (video as never as { webkitAudioDecodedByteCount: number }).webkitAudioDecodedByteCount,
    );
const viewersWidth = (): Promise<number> =>
  sides.viewer.locator('video').evaluate((video) => (video as HTMLVideoElement).videoWidth);
/** Whether the viewer has the quiet dark ground that stands where no picture comes. */
const isStill = (): Promise<boolean> =>
  sides.viewer.locator('video').evaluate((video) => {
    const canvas = Object.assign(document.createElement('canvas'), { width: 32, height: 18 });
    const drawing = canvas.getContext('2d')!;
    drawing.drawImage(video as HTMLVideoElement, 0, 0, 32, 18);
    const { data } = drawing.getImageData(0, 0, 32, 18);
    return data.filter((_, index) => index % 4 === 0).every((red) => red < 45);
  });

/** The page that was opened at the beginning goes on playing, nobody having touched it. */
async function playsOn(): Promise<void> {
  const from = await positionIn(sides.viewer);
  // A page that reopens the stream begins again at the live edge, whose position may be lower.
  await until(async () => Math.abs((await positionIn(sides.viewer)) - from) > 2, 'the picture to go on');
  await seesMore(sides.viewer, 2);
}

/** What the desk has of the source. */
const deskSays = (words: RegExp): Promise<boolean> =>
  until(
    async () => words.test((await sides.desk.getByRole('region', { name: 'Coming in' }).textContent()) ?? ''),
    `the desk to say ${words.source}`,
  );

describe('an open page goes on by itself, and the desk says what it is, when the encoder', () => {
  test('loses its sound', async () => {
    await sides.encoder.getByRole('button', { name: 'Send no sound' }).click();
    await deskSays(/Sound *none/);
    await playsOn();
  });

  test('loses its picture and keeps its sound', async () => {
    await sides.encoder.getByRole('button', { name: 'Send no picture' }).click();
    await deskSays(/Picture *none.*stereo/);
    await playsOn();
    const heard = await viewersSound();
    await until(async () => (await viewersSound()) > heard, 'sound to be decoded');
  });

  test('lost its picture for a while, also for somebody who goes back to before that', async () => {
    const lostAtMs = Date.now();
    await sides.encoder.getByRole('button', { name: 'Send no picture' }).click();
    await until(isStill, 'the still picture');
    await playsOn();
    await sides.encoder.getByRole('button', { name: 'Send as it should' }).click();
    await until(async () => !(await isStill()), 'the picture again');
    const tens = Math.ceil((Date.now() - lostAtMs) / 10_000) + 1;
    const isPlaying = (): Promise<boolean> =>
      sides.viewer.locator('[data-state=playing]').count().then(Boolean);
    for (let pressed = 0; pressed < tens; pressed += 1)
      await sides.viewer.getByRole('button', { name: 'Back 10 s' }).click();
    for (const still of [false, true, false])
      await until(
        async () => (await isPlaying()) && (await isStill()) === still,
        still ? 'the still picture' : 'the picture',
      );
    expect(await sides.viewer.getByText(/late\. Go to now/).count()).toBe(1);
    await sides.viewer.getByText(/Go to now/).click();
  });

  test('changes the size of its picture', async () => {
    await sides.encoder.getByRole('button', { name: 'Send another size' }).click();
    await deskSays(/640 × 360/);
    await until(async () => (await viewersWidth()) === 640, 'the other size');
    await playsOn();
  });

  test('has a network that stutters', async () => {
    await sides.encoder.getByRole('button', { name: 'Let the network stutter' }).click();
    await playsOn();
    expect(await sides.viewer.getByText(/cannot be played/i).count()).toBe(0);
  });
});
