import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { GrantClass } from '@heliphon/core/access/grant';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
beforeAll(async () => {
  driver = await NodeDriver.start();
  const { plan } = driver.onAir();
  const later = { ...plan, airAtMs: plan.airAtMs + 3_600_000 };
  await driver.desire({ programmes: [driver.onAir({ plan: later })] });
  driver.encode();
  await driver.untilSegments(2);
});
afterAll(() => driver.close());

const command = async (kind: 'go-on-air' | 'end'): Promise<void> => {
  const [programme] = driver.state.programmes;
  const given = { commandId: kind, kind, atMs: Date.now() } as const;
  await driver.desire({ programmes: [{ ...programme!, command: given }] });
};
const pictures = (): Promise<string[]> =>
  readdir(join(driver.folder, 'media', driver.houseId, driver.programmeId, 'pictures')).catch(() => []);
const ask = (minute: number, grantClass: GrantClass = 'public') =>
  fetch(driver.address(`picture-${minute}.jpg`, grantClass));

test('of each minute on air there is a small picture, for those who may see that minute', async () => {
  expect(await pictures()).toEqual([]);
  await command('go-on-air');
  const name = await until(
    async () => (await pictures()).find((known) => known.endsWith('.jpg')),
    'a picture',
  );
  const minute = Number(name.split('-')[0]);
  expect(Math.abs(minute - Date.now() / 60_000)).toBeLessThan(2);
  const answer = await until(async () => {
    const asked = await ask(minute);
    return asked.ok && asked;
  }, 'the public picture');
  expect([answer.headers.get('content-type'), answer.headers.get('cache-control')]).toEqual([
    'image/jpeg',
    expect.stringContaining('immutable'),
  ]);
  expect(answer.headers.get('access-control-allow-origin')).toBe('*');
  const bytes = Buffer.from(await answer.arrayBuffer());
  // JPEG begins with its marker (ISO/IEC 10918-1, B.1.1.3).
  expect([bytes.readUInt16BE(0), bytes.byteLength < 60_000]).toEqual([0xffd8, true]);

  expect((await ask(minute - 5)).status).toBe(404);
  expect(
    (await fetch(driver.address(`picture-${minute}.jpg`).replace(/\/p\/[^/]+\/[^/]+/, '/p/x/y'))).ok,
  ).toBe(false);

  await command('end');
  await until(async () => (await fetch(driver.address('replay.m3u8'))).ok, 'the replay');
  expect((await ask(minute)).status).toBe(200);
  await driver.restart();
  await driver.desire({ programmes: [] });
  expect((await ask(minute)).status).toBe(200);
});
