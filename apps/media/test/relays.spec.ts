import { randomUUID } from 'node:crypto';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

test('a source that follows another programme shows what viewers get there, while it is on air', async () => {
  const hall = { sourceId: randomUUID(), programmeId: randomUUID() };
  const chapel = driver.onAir();
  const following = driver.source({
    sourceId: hall.sourceId,
    keySha256Hex: 'cd'.repeat(32),
    followsProgrammeId: chapel.programmeId,
  });
  const inTheHall = { ...driver.onAir(), ...hall };
  await driver.desire({ sources: [driver.source(), following], programmes: [chapel, inTheHall] });
  const encoder = driver.encode();
  const signalOf = (programmeId: string) =>
    driver.node.figures().programmes.find((programme) => programme.programmeId === programmeId)?.signal
      .present;
  await until(() => signalOf(hall.programmeId), 'the chapel in the hall');
  const shown = driver.node.figures().sources.find(({ sourceId }) => sourceId === hall.sourceId);
  expect(shown?.report).toMatchObject({ protocol: 'programme', video: { widthPx: 320 } });

  const ended = { ...chapel, command: { commandId: 'end', kind: 'end' as const, atMs: Date.now() } };
  await driver.desire({ programmes: [ended, inTheHall] });
  await until(() => signalOf(hall.programmeId) === false, 'the hall to see that it is over');
  expect(driver.node.figures().sources.map(({ sourceId }) => sourceId)).not.toContain(hall.sourceId);
  await encoder.stop();
});
