import { createHash } from 'node:crypto';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DesiredSlate, DesiredStandby } from '@heliphon/core/control/desired-state';
import { NodeDriver, until } from './driver.js';
import { Receiver, stepsOf } from './receiver.js';

const SLATE: DesiredSlate = {
  awayAfterMs: 1500,
  stillIds: { coming: 'c'.repeat(64), back: 'b'.repeat(64) },
  sound: null,
};
/** A machine that stands still for a moment is no gap. */
const PATIENT = { ...SLATE, awayAfterMs: 5000 };
const BALCONY = '0198a000-0000-7000-8000-00000000000b';
const BALCONY_KEY = 'balcony-key';
const PLACE = '0198a000-0000-7000-8000-000000000001';

let driver: NodeDriver;
let receiver: Receiver;
let destinations: { destinationId: string; address: string }[];
beforeEach(async () => {
  driver = await NodeDriver.start();
  receiver = new Receiver();
  destinations = [{ destinationId: PLACE, address: await receiver.listen() }];
});
afterEach(async () => {
  await driver.close();
  receiver.close();
});

const keySha256Hex = createHash('sha256').update(BALCONY_KEY).digest('hex');
const feeding = (): string | null => driver.node.figures().programmes[0]!.sourceId;
const have = async () =>
  (await driver.told('viewers-have')).map(({ have: what }) =>
    what.kind === 'picture' ? (what.sourceId === BALCONY ? 'balcony' : 'pier') : what.kind,
  );
const desire = (standby: Partial<DesiredStandby> = {}, over: object = {}) =>
  driver.desire({
    sources: [driver.source(), driver.source({ sourceId: BALCONY, user: 'balcony', keySha256Hex })],
    programmes: [
      driver.onAir({
        slate: SLATE,
        standby: { sourceId: BALCONY, afterMs: 500, isPreferred: false, ...standby },
        ...over,
      }),
    ],
  });
const balcony = (size?: string) =>
  driver.encode({ address: driver.rtmpAddress.replace(driver.key, BALCONY_KEY), ...(size ? { size } : {}) });

/** At the place: nothing is missing since so many pictures, nothing runs back, and all of it can be decoded. */
async function expectOneStream(since: number): Promise<void> {
  const steps = stepsOf(receiver.session!.pictureMs.slice(since - 1));
  expect(Math.min(...steps)).toBeGreaterThan(0);
  expect(Math.max(...steps)).toBeLessThan(200);
  expect((await receiver.decoded()).words).toBe('');
}

test('the second source takes over from the first and gives back, in one stream and one session', async () => {
  const first = driver.encode();
  balcony();
  await desire({}, { destinations, slate: PATIENT });
  await until(() => feeding() === driver.sourceId && driver.node.figures().sources.length === 2, 'both');
  await until(async () => (await have()).includes('pier'), 'the first');
  // The slate before the first picture may have had a session of its own.
  await driver.untilSegments(3);
  const [sessions, pictures] = [receiver.sessions.length, receiver.session!.pictureMs.length];
  await first.stop();
  await until(() => feeding() === BALCONY, 'the second');
  const faults = async () =>
    (await driver.told('fault')).map(({ fault }) => `${fault.kind} ${fault.subjectId}`);
  await until(async () => (await faults()).includes(`took-over ${BALCONY}`), 'it being told');
  expect(await faults()).toContain(`encoder-gone ${driver.sourceId}`);
  driver.encode();
  await until(() => feeding() === driver.sourceId, 'the first again');
  await until(async () => (await have()).at(-1) === 'pier', 'viewers having it');
  expect((await have()).slice(-3)).toEqual(['pier', 'balcony', 'pier']);
  expect(receiver.sessions).toHaveLength(sessions);
  await expectOneStream(pictures);
});

test('it goes on where the first stopped, also when that falls silent on an open line', async () => {
  const first = driver.encode();
  balcony();
  await desire({ afterMs: 1000 }, { destinations, slate: PATIENT });
  await until(async () => (await have()).at(-1) === 'pier', 'the first');
  await driver.untilSegments(3);
  const pictures = receiver.session!.pictureMs.length;
  first.stall();
  await until(async () => (await have()).at(-1) === 'balcony', 'viewers having the second');
  await driver.untilSegments(5);
  expect((await have()).slice(-2)).toEqual(['pier', 'balcony']);
  await expectOneStream(pictures);
});

test('by hand the second takes over at its next keyframe, while the first goes on until then', async () => {
  driver.encode();
  balcony();
  await desire({ afterMs: null });
  await until(async () => (await have()).at(-1) === 'pier', 'the first');
  await desire({ afterMs: null, isPreferred: true });
  await until(() => feeding() === BALCONY, 'the second');
  await until(async () => (await have()).at(-1) === 'balcony', 'viewers having it');
  const seen = await have();
  expect(seen.slice(seen.indexOf('pier'))).toEqual(['pier', 'balcony']);
  // By hand it is no fault.
  expect((await driver.told('fault')).filter(({ fault }) => fault.kind === 'took-over')).toEqual([]);
  await desire({ afterMs: null, isPreferred: false });
  await until(() => feeding() === driver.sourceId, 'the first again');
});

test('without a wish to do so by itself a second source only waits, and the slate stands', async () => {
  const first = driver.encode();
  balcony();
  await desire({ afterMs: null });
  await until(async () => (await have()).at(-1) === 'pier', 'the first');
  await first.stop();
  await until(async () => (await have()).at(-1) === 'slate', 'the slate');
  expect(feeding()).toBe(driver.sourceId);
});

test('with neither there, viewers see the slate until one of them comes back', async () => {
  const first = driver.encode();
  const second = balcony();
  await desire();
  await until(async () => (await have()).at(-1) === 'pier', 'the first');
  await first.stop();
  await second.stop();
  await until(async () => (await have()).at(-1) === 'slate', 'the slate');
  balcony('640x360');
  await until(async () => (await have()).at(-1) === 'balcony', 'the second');
});
