import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

describe('a full disk', () => {
  test('stops recording in words, while live goes on; with room again it records again', async () => {
    await driver.restart({ diskReserveBytes: Number.MAX_SAFE_INTEGER });
    await driver.desire({ programmes: [driver.onAir()] });
    driver.encode();
    await driver.untilSegments(2);
    expect(driver.node.figures()).toMatchObject({
      disk: 'full',
      programmes: [{ recordingStopped: 'disk-full', keptMs: 0 }],
    });
    const journal = await readFile(join(driver.folder, 'node', 'journal.jsonl'), 'utf8');
    expect(journal).toContain('"recording-stopped"');
    await driver.restart({ diskReserveBytes: 0 });
    await driver.desire({});
    driver.encode();
    await until(() => driver.node.figures().programmes[0]?.keptMs ?? 0, 'a kept segment');
    expect(driver.node.figures().programmes[0]!.recordingStopped).toBeNull();
  });
});
