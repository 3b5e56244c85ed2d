import { once } from 'node:events';
import { chromium, type Page } from '@playwright/test';
import { readStrip } from '@heliphon/core/signal/code-strip';
import { ownFolder } from './support/children.js';
import { type Lens, sampleShown, startLens } from './support/lens.js';
import { median, NodeRig, option, pause, quantile, untilQuiet } from './support/rig.js';
import { serveFolder } from './support/serve-folder.js';
import { CHROMIUM } from '../tests/chromium.js';

// From a frame being drawn to its being shown: our player on our low-latency playlist, the desk's quick picture, then hls.js
// as it comes on plain HLS with 2 s segments that ffmpeg makes of the very same stream (the yardstick).

const SETTLE_MS = 12_000;
const MIN_SAMPLES = 300;
const BUDGET = { medianSeconds: 1.7, p95Seconds: 2.2, quickSeconds: 0.7 };

/** Seconds from drawn to shown, sampled over a time; a picture that cannot be read or stands still counts as it is. */
async function measure(
  page: Page,
  lens: Lens,
  play: 'playOurs' | 'playQuick' | 'playPlain',
  address: string,
  seconds: number,
) {
  const shown = await sampleShown(page, play, address, seconds, SETTLE_MS);
  return shown.flatMap(({ atMs, lumas }) => {
    const number = readStrip(lumas);
    return number === null ? [] : [(atMs - lens.drawnAtMs[number]!) / 1000];
  });
}

interface Measured {
  readonly medianSeconds: number;
  readonly p95Seconds: number;
  readonly quickSeconds: number;
  readonly ratio: number;
}

async function run(seconds: number): Promise<Measured> {
  const folder = ownFolder();
  const rig = await NodeRig.start(folder, 1);
  const files = await serveFolder(folder);
  const lens = startLens(rig.rtmpAddress(0), folder);
  const browser = await chromium.launch(CHROMIUM);
  try {
    await pause(6000);
    const page = await browser.newPage();
    const ours = await measure(page, lens, 'playOurs', rig.liveAddress(0), seconds);
    const quick = await measure(page, lens, 'playQuick', rig.liveAddress(0, 'desk'), seconds / 2);
    const plain = await measure(page, lens, 'playPlain', `${files.url}/${lens.plainFile}`, seconds);
    console.log(
      `ours: ${ours.length} samples, quick: ${quick.length}, plain: ${plain.length}, plain median ${median(plain).toFixed(2)} s`,
    );
    if (Math.min(ours.length, 2 * quick.length, plain.length) < Math.min(MIN_SAMPLES, seconds * 5))
      throw new Error('Too few samples could be read');
    return {
      medianSeconds: median(ours),
      p95Seconds: quantile(ours, 0.95),
      quickSeconds: median(quick),
      ratio: median(ours) / median(plain),
    };
  } finally {
    await browser.close();
    await lens.stop();
    files.close();
    rig.stop();
    await once(rig.process, 'exit');
  }
}

const results: Measured[] = [];
for (let turn = 0; turn < option('runs', 3); turn += 1) {
  await untilQuiet();
  results.push(await run(option('seconds', 60)));
}
const of = (pick: (result: Measured) => number): number => median(results.map(pick));
const [medianS, p95S] = [of((r) => r.medianSeconds), of((r) => r.p95Seconds)];
const quickS = of((r) => r.quickSeconds);
const passes = medianS <= BUDGET.medianSeconds && p95S <= BUDGET.p95Seconds && quickS <= BUDGET.quickSeconds;
console.log(
  `latency median_s=${medianS.toFixed(2)} p95_s=${p95S.toFixed(2)} quick_s=${quickS.toFixed(2)} ratio=${of((r) => r.ratio).toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
