import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { chromium, type Page } from '@playwright/test';
import { readStrip } from '@heliphon/core/signal/code-strip';
import { Receiver, stepsOf } from '../apps/media/test/receiver.js';
import { CHROMIUM } from '../tests/chromium.js';
import { ownFolder } from './support/children.js';
import { type Lens, shownNow, startLens } from './support/lens.js';
import { median, NodeRig, option, pause, untilQuiet } from './support/rig.js';
import { serveFolder } from './support/serve-folder.js';

// The encoder is cut for 1, 5 and 30 s, over and over: how long the picture of our player stands, how far behind the lens
// it is before and after, and what an RTMP receiver gets. Beside it hls.js plays what ffmpeg makes of the very same
// stream by copying (the yardstick): its picture stands for as long as the cut.

const CUTS_SECONDS = [1, 5, 30] as const;
const SETTLE_MS = 12_000;
/** After this whatever the cut has done is over, and players have caught up. */
const AFTERWARDS_MS = 14_000;
const BUDGET = { stillMs: 2000, stepMs: 70, soundMs: 40, delayMs: 300 };

interface Watched {
  readonly page: Page;
  /** The longest that its picture has stood since the last question. */
  stillMs(): Promise<number>;
}

async function watch(browserPage: Page, play: 'playOurs' | 'playPlain', address: string): Promise<Watched> {
  await browserPage.setContent('<video muted playsinline width="640" height="360"></video>');
  await browserPage.addScriptTag({ content: await readFile('dist/bench/page/player.js', 'utf8') });
  await browserPage.evaluate(
    ([name, url]) => {
      const video = document.querySelector('video')!;
      const noted = { lastAtMs: performance.now(), longestMs: 0 };
      const shown = (): void => {
        const nowMs = performance.now();
        noted.longestMs = Math.max(noted.longestMs, nowMs - noted.lastAtMs);
        noted.lastAtMs = nowMs;
        video.requestVideoFrameCallback(shown);
      };
      video.requestVideoFrameCallback(shown);
      Object.assign(window, { noted });
      (window as never as Record<string, (element: Element, url: string) => void>)[name!]!(video, url!);
    },
    [play, address],
  );
  return {
    page: browserPage,
    stillMs: () =>
      browserPage.evaluate(() => {
        const { noted } = window as never as { noted: { lastAtMs: number; longestMs: number } };
        const longestMs = Math.max(noted.longestMs, performance.now() - noted.lastAtMs);
        noted.longestMs = 0;
        return longestMs;
      }),
  };
}

/** How far the picture shown is behind the lens; `null` where no number can be read in it. */
async function delayMs(page: Page, lens: Lens): Promise<number | null> {
  const samples = await shownNow(page, 2000);
  const delays = samples.flatMap(({ atMs, lumas }) => {
    const number = readStrip(lumas);
    return number === null ? [] : [atMs - lens.drawnAtMs[number]!];
  });
  return delays.length > 0 ? median(delays) : null;
}

const folder = ownFolder();
const receiver = new Receiver();
const files = await serveFolder(folder);
await untilQuiet();
const rig = await NodeRig.start(folder, 1, { places: [await receiver.listen()], hasSlate: true });
const begin = (): Lens => startLens(rig.rtmpAddress(0), folder);
let lens = begin();
const browser = await chromium.launch(CHROMIUM);
let passes = true;
try {
  await pause(8000);
  const ours = await watch(await browser.newPage(), 'playOurs', rig.liveAddress(0));
  const plain = await watch(await browser.newPage(), 'playPlain', `${files.url}/${lens.plainFile}`);
  await pause(SETTLE_MS);
  const sessions = receiver.sessions.length;
  const place = receiver.session!;
  const offsetMs = (): number => place.soundMs.at(-1)! - place.pictureMs.at(-1)!;
  const soundBeforeMs = offsetMs();
  for (const seconds of CUTS_SECONDS) {
    const stood = { ours: [] as number[], plain: [] as number[] };
    const later: number[] = [];
    for (let turn = 0; turn < option('runs', 10); turn += 1) {
      const beforeMs = await delayMs(ours.page, lens);
      await Promise.all([ours.stillMs(), plain.stillMs()]);
      await lens.stop();
      await pause(seconds * 1000);
      lens = begin();
      await pause(AFTERWARDS_MS);
      stood.ours.push(await ours.stillMs());
      stood.plain.push(await plain.stillMs());
      const afterMs = await delayMs(ours.page, lens);
      if (beforeMs !== null && afterMs !== null) later.push(afterMs - beforeMs);
    }
    const [longestMs, plainMs] = [Math.max(...stood.ours), median(stood.plain)];
    const laterMs = median(later);
    const isGood = longestMs <= BUDGET.stillMs && laterMs <= BUDGET.delayMs;
    passes &&= isGood;
    console.log(
      `continuity cut_s=${seconds} longest_still_ms=${Math.round(longestMs)} later_ms=${Math.round(laterMs)} ` +
        `plain_still_ms=${Math.round(plainMs)} ratio=${(longestMs / plainMs).toFixed(2)} ${isGood ? 'PASS' : 'FAIL'}`,
    );
  }
  const soundMs = Math.abs(offsetMs() - soundBeforeMs);
  const cuts = CUTS_SECONDS.length * option('runs', 10);
  // Two switches a cut may take a step of their own.
  const steps = stepsOf(place.pictureMs).sort((a, b) => b - a);
  const beyondMs = steps[cuts * 2] ?? 0;
  const sent = place.pictureMs.length;
  const { frames, words } = await receiver.decoded(place);
  const isGood =
    receiver.sessions.length === sessions &&
    words === '' &&
    frames >= sent &&
    Math.min(...steps) > 0 &&
    beyondMs <= BUDGET.stepMs &&
    soundMs <= BUDGET.soundMs;
  passes &&= isGood;
  console.log(
    `continuity place sessions=${receiver.sessions.length - sessions + 1} frames=${frames} of ${sent} ` +
      `complaints=${words === '' ? 0 : words.split('\n').length} largest_step_ms=${steps[0]} beyond_switch_ms=${beyondMs} ` +
      `sound_ms=${Math.round(soundMs)} ${isGood ? 'PASS' : 'FAIL'}`,
  );
} finally {
  await browser.close();
  await lens.stop();
  files.close();
  receiver.close();
  rig.stop();
  await once(rig.process, 'exit');
}
process.exit(passes ? 0 : 1);
