import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { NodeDriver, until } from './driver.js';
import { Receiver } from './receiver.js';

let driver: NodeDriver;
let place: Receiver;
let address: string;
beforeEach(async () => {
  driver = await NodeDriver.start();
  place = new Receiver();
  address = await place.listen();
});
afterEach(async () => {
  await driver.close();
  place.close();
});

const DESTINATION = '0198a000-0000-7000-8000-000000000001';
const state = async () => (await driver.node.figures()).programmes[0]?.destinations[0]?.state;
const goOnAir = () =>
  driver.desire({
    programmes: [driver.onAir({ destinations: [{ destinationId: DESTINATION, address, rendition: null }] })],
  });

test('a place gets the programme, and keeps its connection while the encoder is away', async () => {
  await goOnAir();
  expect(await state()).toEqual({ state: 'waiting' });
  const encoder = driver.encode();
  await until(async () => (await state())?.state === 'going-out', 'going out');
  const rate = () => driver.node.figures().programmes[0]!.destinations[0]!.rateBps;
  await until(() => rate() > 50_000, 'the rate at which it takes the programme');
  await encoder.stop();
  await until(async () => !(await driver.node.figures()).programmes[0]!.signal.present, 'the signal to go');
  const [bytes, timestampMs] = [place.videoBytes, place.lastTimestampMs];
  expect((await state())?.state).toBe('going-out');
  driver.encode();
  await until(() => place.videoBytes > bytes + 10_000, 'the picture again');
  expect(place.sessions).toHaveLength(1);
  expect(place.lastTimestampMs).toBeGreaterThan(timestampMs);
});

test('a refused key is told as such, with the next try, and the programme goes on', async () => {
  place.mode = 'refuse';
  await goOnAir();
  driver.encode();
  const troubled = await until(async () => {
    const now = await state();
    return now?.state === 'troubled' && now;
  }, 'trouble');
  expect(troubled).toMatchObject({ reason: 'refused', attempt: 1 });
  expect((await fetch(driver.address('live.m3u8'))).status).toBe(200);
  place.mode = 'accept';
  await until(async () => (await state())?.state === 'going-out', 'the next try');
});

test.each(['127.0.0.1', 'localhost'])(
  'nothing is sent to %s where the installation does not allow it',
  async (host) => {
    await driver.restart({ innerPlaces: false });
    address = address.replace('127.0.0.1', host);
    await goOnAir();
    driver.encode();
    await until(async () => {
      const now = await state();
      return now?.state === 'troubled' && now.reason === 'inner-address';
    }, 'trouble');
    expect(place.sessions).toEqual([]);
  },
);

test('a place nobody listens at is unreachable', async () => {
  place.close();
  await goOnAir();
  driver.encode();
  await until(async () => {
    const now = await state();
    return now?.state === 'troubled' && now.reason === 'unreachable';
  }, 'trouble');
});

test('changed codec parameters start that sender', async () => {
  await goOnAir();
  const first = driver.encode();
  await until(async () => (await state())?.state === 'going-out', 'going out');
  await first.stop();
  driver.encode({ size: '640x360' });
  await until(() => place.sessions.length === 2, 'a second connection');
  await until(async () => (await state())?.state === 'going-out', 'going out again');
});

test('a place that is taken out stops, and nothing else does', async () => {
  await goOnAir();
  driver.encode();
  await until(async () => (await state())?.state === 'going-out', 'going out');
  await driver.desire({ programmes: [{ ...driver.state.programmes[0]!, destinations: [] }] });
  const bytes = place.videoBytes;
  const before = (await driver.node.figures()).programmes[0]!;
  expect(before.destinations).toEqual([]);
  await until(
    async () => (await driver.node.figures()).programmes[0]!.keptMs > before.keptMs + 2000,
    'more programme',
  );
  expect(place.videoBytes - bytes).toBeLessThan(200_000);
});
