import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import sharp from 'sharp';
import { ownFolder } from './support/children.js';
import { startPageServer } from './support/page-server.js';
import { makeFilm, median, NodeRig, option, pause, sendFilm, untilQuiet } from './support/rig.js';
import { CHROMIUM } from '../tests/chromium.js';

// The watch page on a telephone: a processor a quarter as fast, 1.6 Mbit/s, 150 ms there and back. How long until the poster
// stands, until the first picture moves, and how much of the page jumps about meanwhile. Yardstick: the same poster and the
// same stream on a page with nothing but hls.js as it comes.

const PHONE = { cpu: 4, bitsPerSecond: 1_600_000, latencyMs: 150 } as const;
const PATIENCE_MS = 90_000;
// What is left of the shift is the page's own type, which comes a moment after the words.
const BUDGET = { posterMs: 2500, shift: 0.02, ratio: 1.3 } as const;

interface Measured {
  readonly posterMs: number;
  readonly pictureMs: number;
  readonly shift: number;
}

/** Written down by the page itself, from its very beginning. */
const WATCH = `
  window.noted = { posterMs: 0, pictureMs: 0, shift: 0 };
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) window.noted.posterMs = entry.startTime;
  }).observe({ type: 'largest-contentful-paint', buffered: true });
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) if (!entry.hadRecentInput) window.noted.shift += entry.value;
  }).observe({ type: 'layout-shift', buffered: true });
  const looking = setInterval(() => {
    const video = document.querySelector('video');
    if (!video) return;
    clearInterval(looking);
    video.requestVideoFrameCallback(() => (window.noted.pictureMs = performance.now()));
  }, 20);
`;

async function asOnAPhone(page: Page): Promise<void> {
  const session = await page.context().newCDPSession(page);
  await session.send('Network.enable');
  await session.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: PHONE.latencyMs,
    downloadThroughput: PHONE.bitsPerSecond / 8,
    uploadThroughput: PHONE.bitsPerSecond / 8,
  });
  await session.send('Emulation.setCPUThrottlingRate', { rate: PHONE.cpu });
}

const folder = ownFolder();
const film = join(folder, 'film.flv');
makeFilm(film);
const rig = await NodeRig.start(join(folder, 'node'), 1, {
  renditions: [{ heightPx: 240, videoBitrateBps: 300_000 }],
});
sendFilm(film, rig.rtmpAddress(0));
const drawn = await sharp({ create: { width: 1280, height: 720, channels: 3, background: '#24405c' } })
  .jpeg()
  .toBuffer();
const main = rig.liveAddress(0).replace('live.m3u8', 'main.m3u8');
const bare = `<!doctype html><meta name="viewport" content="width=device-width"><body style="margin:0">
<video muted autoplay playsinline poster="/poster" style="width:100%;aspect-ratio:16/9"></video>
<script src="/hls.js"></script><script>
const hls = new Hls({ startLevel: -1 }); hls.loadSource('${main}'); hls.attachMedia(document.querySelector('video'));
</script>`;
const server = await startPageServer(
  { type: 'image/jpeg', bytes: drawn },
  { '/bare.html': Buffer.from(bare), '/hls.js': await readFile('node_modules/hls.js/dist/hls.min.js') },
);
server.change({
  state: 'air',
  airAtMs: Date.now(),
  playback: {
    kind: 'live',
    hls: rig.liveAddress(0),
    main,
    hasSizes: true,
    expiresAtMs: Date.now() + 1e7,
  },
});
await pause(14_000);
await untilQuiet();
const browser = await chromium.launch(CHROMIUM);

async function measure(path: string): Promise<Measured> {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const page = await context.newPage();
  await page.addInitScript(WATCH);
  await asOnAPhone(page);
  await page.goto(server.origin + path);
  await page.waitForFunction('window.noted.pictureMs > 0', undefined, { timeout: PATIENCE_MS });
  const noted = await page.evaluate<Measured>('window.noted');
  await context.close();
  return noted;
}

const [ours, theirs]: [Measured[], Measured[]] = [[], []];
for (let run = 0; run < option('runs', 5); run += 1) {
  ours.push(await measure('/watch/x'));
  theirs.push(await measure('/bare.html'));
  console.log(`run ${run + 1}: ours ${JSON.stringify(ours.at(-1))}, bare ${JSON.stringify(theirs.at(-1))}`);
}
await browser.close();
server.close();
rig.stop();
const of = (all: readonly Measured[], what: keyof Measured): number => median(all.map((one) => one[what]));
const ratio = of(ours, 'pictureMs') / of(theirs, 'pictureMs');
const shift = Math.max(...ours.map((one) => one.shift));
const passes = of(ours, 'posterMs') <= BUDGET.posterMs && shift <= BUDGET.shift && ratio <= BUDGET.ratio;
console.log(
  `phone poster_ms=${of(ours, 'posterMs').toFixed(0)} picture_ms=${of(ours, 'pictureMs').toFixed(0)} bare_picture_ms=${of(theirs, 'pictureMs').toFixed(0)} layout_shift=${shift.toFixed(3)} ratio=${ratio.toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
