import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DesiredSlate } from '@heliphon/core/control/desired-state';
import type { Fault } from '@heliphon/core/faults/fault';
import { NodeDriver, until } from './driver.js';
import { Receiver } from './receiver.js';

const SLATE: DesiredSlate = {
  awayAfterMs: 1500,
  stillIds: { coming: 'c'.repeat(64), back: 'b'.repeat(64) },
  sound: null,
};
/** Faults are looked at once a second; a machine that is busy elsewhere may be later. */
const SLOW_MACHINE_MS = 3000;
const PLACE = '0198a000-0000-7000-8000-000000000001';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

const open = (): readonly string[] =>
  (driver.node.figures().programmes[0]?.faults ?? []).map(({ kind }) => kind).toSorted();
const untilOpen = (...kinds: Fault['kind'][]) =>
  until(() => open().join() === kinds.toSorted().join(), kinds.join(', ') || 'nothing wrong');
const told = async (kind: Fault['kind']): Promise<Fault[]> =>
  (await driver.told('fault')).map(({ fault }) => fault).filter((fault) => fault.kind === kind);

test('an encoder that has not come, comes, goes, and comes back at another size', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE })] });
  await untilOpen('encoder-gone');
  const first = driver.encode();
  await untilOpen();
  await first.stop();
  await untilOpen('encoder-gone');
  driver.encode({ size: '640x360' });
  await untilOpen('format-changed');
  await untilOpen();

  const [never, neverEnded, lost, lostEnded] = await told('encoder-gone');
  expect([never, lost]).toMatchObject([
    { detail: { ending: 'never-came' }, subjectId: driver.sourceId, toMs: null },
    { detail: { ending: 'connection-broke' }, toMs: null },
  ]);
  expect(neverEnded).toMatchObject({ fromMs: never!.fromMs });
  const lastedMs = lostEnded!.toMs! - lostEnded!.fromMs;
  expect(lostEnded!.noticed.slateMs).toBeGreaterThan(0);
  expect(lostEnded!.noticed.slateMs).toBeLessThanOrEqual(lastedMs + SLOW_MACHINE_MS);
  expect((await told('format-changed'))[0]!.detail).toEqual({
    from: '320x180, 44100 Hz 2',
    to: '640x360, 44100 Hz 2',
  });
});

test('a picture that is black and sound that is silent are seen and heard, and so is their end', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE })] });
  const dark = driver.encode({
    shows: 'color=black:size=320x180:rate=25',
    sounds: 'anullsrc=r=44100:cl=stereo',
  });
  await untilOpen('picture-black', 'silence');
  const silence = await until(
    async () => (await driver.told('fault')).find(({ fault }) => fault.kind === 'silence'),
    'the silence being told',
  );
  // It began when the sound did, and not when ten seconds of it were over.
  expect(silence.atMs - silence.fault.fromMs).toBeGreaterThan(9000);
  await dark.stop();
  driver.encode();
  await untilOpen();
});

test('a place that refuses has its fault, with what it said, until it takes the stream', async () => {
  const receiver = new Receiver();
  receiver.mode = 'refuse';
  const address = await receiver.listen();
  try {
    driver.encode();
    await driver.desire({
      programmes: [driver.onAir({ destinations: [{ destinationId: PLACE, address, rendition: null }] })],
    });
    await untilOpen('place-refused');
    receiver.mode = 'accept';
    await untilOpen();
    expect(await told('place-refused')).toMatchObject([
      { subjectId: PLACE, toMs: null, viewerMs: 0 },
      { subjectId: PLACE, toMs: expect.any(Number) },
    ]);
  } finally {
    receiver.close();
  }
});

test('a node that fell says so of what was on air, from where its recording ends', async () => {
  await driver.desire({});
  driver.encode();
  await until(() => driver.report?.video, 'the encoder');
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE })] });
  await driver.untilSegments(2);
  await driver.restart();
  await until(async () => (await told('node-away')).length > 0, 'it being told');
  driver.encode();
  await untilOpen();
  const [began, ended] = await told('node-away');
  expect(ended).toMatchObject({ fromMs: began!.fromMs });
  expect(ended!.noticed.nothingMs + ended!.noticed.slateMs).toBeGreaterThan(0);
  // The encoder reconnecting is not counted as a separate fault.
  expect(await told('encoder-gone')).toEqual([]);
});

test('with the end of the event every fault is over', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE })] });
  await untilOpen('encoder-gone');
  const command = { commandId: 'e', kind: 'end', atMs: Date.now() } as const;
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE, command })] });
  const faults = await until(async () => {
    const all = await told('encoder-gone');
    return all.length === 2 && all;
  }, 'its end');
  expect(faults[1]!.toMs).not.toBeNull();
});
