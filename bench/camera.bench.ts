import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { chromium, type Page } from '@playwright/test';
import { readStrip } from '@heliphon/core/signal/code-strip';
import { CHROMIUM } from '../tests/chromium.js';
import { ownFolder } from './support/children.js';
import { sampleShown, startLens } from './support/lens.js';
import { median, NodeRig, option, pause, quantile, untilQuiet } from './support/rig.js';

// From a frame before a browser's camera to its being shown in our player, by way of recorder, WebSocket and the node.
// Yardstick: an encoder over RTMP, in the same run and the same player.

const SETTLE_MS = 12_000;
const BUDGET = { medianSeconds: 2.2, p95Seconds: 2.8 };

/** When frames were drawn in the page of the camera, by their numbers. */
const drawnIn = (page: Page): Promise<number[]> =>
  page.evaluate(() => (window as never as { drawnAtMs: number[] }).drawnAtMs);

async function watch(
  page: Page,
  address: string,
  seconds: number,
): Promise<{ atMs: number; number: number }[]> {
  const samples = await sampleShown(page, 'playOurs', address, seconds, SETTLE_MS);
  return samples.flatMap(({ atMs, lumas }) => {
    const number = readStrip(lumas);
    return number === null ? [] : [{ atMs, number }];
  });
}

async function run(seconds: number): Promise<{ medianSeconds: number; p95Seconds: number; ratio: number }> {
  const folder = ownFolder();
  const rig = await NodeRig.start(folder, 2);
  const [sender, viewer] = await Promise.all([chromium.launch(CHROMIUM), chromium.launch(CHROMIUM)]);
  try {
    const page = await viewer.newPage();
    const lens = startLens(rig.rtmpAddress(1), folder);
    const encoder = (await watch(page, rig.liveAddress(1), seconds)).map(
      ({ atMs, number }) => (atMs - lens.drawnAtMs[number]!) / 1000,
    );
    await lens.stop();
    const camera = await sender.newPage();
    await camera.addScriptTag({ content: await readFile('dist/bench/page/camera.js', 'utf8') });
    await camera.evaluate(
      (line) => (window as never as { sendNumbers: (line: object) => void }).sendNumbers(line),
      rig.line(0),
    );
    await pause(5000);
    const shown = await watch(page, rig.liveAddress(0), seconds);
    const drawnAtMs = await drawnIn(camera);
    const ours = shown.map(({ atMs, number }) => (atMs - drawnAtMs[number]!) / 1000);
    console.log(
      `camera: ${ours.length} samples, encoder: ${encoder.length} samples, median ${median(encoder).toFixed(2)} s`,
    );
    if (Math.min(ours.length, encoder.length) < seconds * 4) throw new Error('Too few samples could be read');
    return {
      medianSeconds: median(ours),
      p95Seconds: quantile(ours, 0.95),
      ratio: median(ours) / median(encoder),
    };
  } finally {
    await Promise.all([sender.close(), viewer.close()]);
    rig.stop();
    await once(rig.process, 'exit');
  }
}

const results: Awaited<ReturnType<typeof run>>[] = [];
for (let turn = 0; turn < option('runs', 3); turn += 1) {
  await untilQuiet();
  results.push(await run(option('seconds', 30)));
}
const of = (pick: (result: (typeof results)[number]) => number): number => median(results.map(pick));
const [medianS, p95S] = [of((r) => r.medianSeconds), of((r) => r.p95Seconds)];
const passes = medianS <= BUDGET.medianSeconds && p95S <= BUDGET.p95Seconds;
console.log(
  `camera median_s=${medianS.toFixed(2)} p95_s=${p95S.toFixed(2)} ratio=${of((r) => r.ratio).toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
