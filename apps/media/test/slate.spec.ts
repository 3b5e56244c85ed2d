import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DesiredSlate } from '@heliphon/core/control/desired-state';
import { decode, NodeDriver, until } from './driver.js';
import { Receiver, stepsOf } from './receiver.js';

const SLATE: DesiredSlate = {
  awayAfterMs: 1500,
  stillIds: { coming: 'c'.repeat(64), back: 'b'.repeat(64) },
};
const DESTINATION = '0198a000-0000-7000-8000-000000000001';

let driver: NodeDriver;
let receiver: Receiver;
let address: string;
beforeEach(async () => {
  driver = await NodeDriver.start();
  receiver = new Receiver();
  address = await receiver.listen();
});
afterEach(async () => {
  await driver.close();
  receiver.close();
});

const destinations = () => [{ destinationId: DESTINATION, address }];
const have = async () => (await driver.told('viewers-have')).map(({ have: { kind } }) => kind);
const signal = () => driver.node.figures().programmes[0]!.signal;

test('before the first picture there is a slate, at 1280 x 720', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE, destinations: destinations() })] });
  await driver.untilSegments(1);
  expect(await have()).toEqual(['nothing', 'slate']);
  expect(signal().present).toBe(false);
  const place = await until(() => receiver.session, 'the place');
  await until(() => place.pictureMs.length > 30, 'a second of it');
});

test('an encoder is cut and comes back: one stream without an end for viewers, one session for the place', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE, destinations: destinations() })] });
  await until(() => receiver.sessions.length === 1, 'the slate at the place');
  const first = driver.encode({ bFrames: 2 });
  await until(async () => (await have()).includes('picture'), 'the picture');
  await until(() => receiver.sessions.length === 2, 'the place, anew for the size of the picture');
  await driver.untilSegments(4);
  await first.stop();
  await until(async () => (await have()).at(-1) === 'slate', 'the slate');
  expect(signal().present).toBe(false);
  const before = receiver.session!.pictureMs.length;
  await until(() => receiver.session!.pictureMs.length > before + 75, 'three seconds of it at the place');
  const second = driver.encode({ bFrames: 2 });
  await until(async () => (await have()).at(-1) === 'picture', 'the picture again');
  expect(signal().present).toBe(true);
  await until(() => receiver.session!.pictureMs.length > before + 200, 'the picture at the place');
  expect(receiver.sessions).toHaveLength(2);
  expect(receiver.session!.headers).toBe(1);
  await second.stop();
  await driver.desire({
    programmes: [driver.onAir({ slate: SLATE, command: { commandId: 'e', kind: 'end', atMs: Date.now() } })],
  });
  // The place could decode every frame, and its times only rose.
  const { pictureMs, soundMs } = receiver.session!;
  expect(await receiver.decoded()).toEqual({ frames: pictureMs.length, words: '' });
  expect(Math.min(...stepsOf(pictureMs), ...stepsOf(soundMs))).toBeGreaterThan(0);
  // But for the two switches it went on without a step.
  expect(stepsOf(pictureMs).filter((ms) => ms > 70).length).toBeLessThanOrEqual(2);
  // The replay leaves the slate out.
  const replay = await until(async () => {
    const response = await fetch(driver.address('replay.m3u8'));
    return response.ok && response.text();
  }, 'the replay');
  const decoded = await decode(driver.address('replay.m3u8'));
  expect(decoded.words).toBe('');
  const listed = [...replay.matchAll(/#EXTINF:([\d.]+)/g)].reduce((sum, match) => sum + Number(match[1]), 0);
  expect(Math.abs(decoded.frames / 25 - listed)).toBeLessThan(0.3);
}, 60_000);
