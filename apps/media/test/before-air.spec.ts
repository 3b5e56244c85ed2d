import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
beforeAll(async () => {
  driver = await NodeDriver.start();
  const hourMs = 3_600_000;
  const { plan } = driver.onAir();
  await driver.desire({ programmes: [driver.onAir({ plan: { ...plan, airAtMs: plan.airAtMs + hourMs } })] });
  driver.encode();
  await driver.untilSegments(3);
});
afterAll(() => driver.close());

const statusOf = async (file: string): Promise<number> => (await fetch(driver.address(file))).status;
const namesIn = (playlist: string, kind: string): string[] =>
  [...playlist.matchAll(new RegExp(`${kind}-\\d+\\.m4s`, 'g'))].map(([name]) => name);

test('the public gets nothing of what was before air, by whatever name: not then, and not once it is on air', async () => {
  const hidden = await driver.playlist();
  const early = [...namesIn(hidden, 'part'), ...namesIn(hidden, 'seg')].slice(0, -8);
  expect(early.length).toBeGreaterThan(10);
  for (const name of [...early, 'init-0.mp4']) expect([name, await statusOf(name)]).toEqual([name, 403]);

  const [programme] = driver.state.programmes;
  const command = { commandId: 'on', kind: 'go-on-air', atMs: Date.now() } as const;
  await driver.desire({ programmes: [{ ...programme!, command }] });
  const shown = await until(async () => {
    const answer = await fetch(driver.address('live.m3u8'));
    const text = answer.ok ? await answer.text() : '';
    return text.includes('seg-') && text;
  }, 'the public playlist');

  const first = /(seg-\d+)/.exec(shown)![1]!;
  const before = namesIn(hidden, 'seg').slice(0, namesIn(hidden, 'seg').indexOf(`${first}.m4s`));
  for (const name of before)
    for (const form of [name, `sound/${name}`, `${name}?init=0`])
      expect([form, await statusOf(form)]).toEqual([form, 403]);
  const firstPart = Number(/part-(\d+)/.exec(shown)![1]);
  for (let part = Math.max(0, firstPart - 14); part < firstPart; part += 1)
    for (const form of [`part-${part}.m4s`, `sound/part-${part}.m4s`])
      expect([form, [403, 404].includes(await statusOf(form))]).toEqual([form, true]);
  expect([await statusOf(`part-${firstPart}.m4s`), await statusOf(`${first}.m4s`)]).toEqual([200, 200]);
});
