import { randomUUID } from 'node:crypto';
import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DesiredClip } from '@heliphon/core/control/desired-state';
import { decode, grantFor, NodeDriver, until } from './driver.js';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

/** What was shown in the last seconds. */
const lastSeconds = (seconds: number): DesiredClip => {
  const toUtcMs = Date.now();
  const { houseId, programmeId } = driver;
  return { clipId: randomUUID(), houseId, programmeId, fromUtcMs: toUtcMs - seconds * 1000, toUtcMs };
};
const addressOf = ({ clipId }: DesiredClip, file: string, grantClass: 'public' | 'desk' = 'public'): string =>
  `${driver.origin}/p/${clipId}/${grantFor(clipId, grantClass)}/${file}`;
const keptOf = async ({ clipId }: DesiredClip) =>
  (await driver.told('recording-kept')).filter(({ programmeId }) => programmeId === clipId);
const untilKept = (clip: DesiredClip) => until(async () => (await keptOf(clip))[0], 'the clip to be kept');

/** On air for a few segments. */
async function goOnAir(): Promise<void> {
  await driver.desire({ programmes: [driver.onAir()] });
  driver.encode();
  await driver.untilSegments(4);
}

test('the last seconds become a recording while the event runs: played, decoded and downloaded like any other', async () => {
  await goOnAir();
  const clip = lastSeconds(4);
  await driver.desire({ clips: [clip] });
  const { durationMs } = await untilKept(clip);
  // From the keyframe before, and with what is still being written.
  expect(durationMs).toBeGreaterThan(2800);
  expect(durationMs).toBeLessThan(6600);

  const { frames, words } = await decode(addressOf(clip, 'replay.m3u8'));
  expect(words).toBe('');
  expect(Math.abs(frames / 25 - durationMs / 1000)).toBeLessThan(0.3);
  expect((await fetch(addressOf(clip, 'recording.mp4', 'desk'))).status).toBe(200);
  // What it was cut from goes on.
  const { length } = await driver.playlist();
  await until(async () => (await driver.playlist()).length > length, 'the programme to go on');
});

test('it takes no room, and stays when the recording it was cut from goes', async () => {
  await goOnAir();
  const clip = lastSeconds(5);
  await driver.desire({ clips: [clip] });
  await untilKept(clip);
  const folder = join(driver.folder, 'media', driver.houseId, clip.clipId);
  const media = (await readdir(folder)).filter((name) => name.startsWith('seg-')).toSorted();
  const links = await Promise.all(media.map(async (name) => (await stat(join(folder, name))).nlink));
  expect(links.slice(0, -1).every((count) => count === 2)).toBe(true);

  const { programmeId, houseId } = driver;
  await driver.desire({ programmes: [], removedRecordings: [{ programmeId, houseId }] });
  await until(async () => (await driver.told('recording-removed')).length > 0, 'it to go');
  expect((await decode(addressOf(clip, 'replay.m3u8'))).words).toBe('');
});

test('cut again after a restart it is the same, and one of the public’s only while it is not in the bin', async () => {
  await goOnAir();
  const clip = lastSeconds(4);
  await driver.desire({ clips: [clip] });
  const { durationMs } = await untilKept(clip);
  await driver.restart();
  await driver.desire({});
  const [, again] = await until(async () => {
    const kept = await keptOf(clip);
    return kept.length === 2 && kept;
  }, 'it to be told once more');
  expect(Math.abs(again!.durationMs - durationMs)).toBeLessThan(2100);
  await driver.desire({ clips: [], binnedRecordings: [clip.clipId] });
  expect((await fetch(addressOf(clip, 'replay.m3u8'))).status).toBe(403);
});

test('where there was no picture, or no programme, it is said that there is nothing', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  const nothingYet = lastSeconds(10);
  const notHere = { ...lastSeconds(10), programmeId: randomUUID() };
  await driver.desire({ clips: [nothingYet, notHere] });
  const failed = await until(async () => {
    const told = await driver.told('clip-failed');
    return told.length === 2 && told;
  }, 'both to be told');
  expect(failed.map(({ programmeId }) => programmeId)).toEqual([nothingYet.clipId, notHere.clipId]);
});
