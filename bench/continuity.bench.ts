import { once } from 'node:events';
import { chromium, type Page } from '@playwright/test';
import { readStrip } from '@heliphon/core/signal/code-strip';
import { Receiver, stepsOf } from '../apps/media/test/receiver.js';
import { CHROMIUM } from '../tests/chromium.js';
import { ownFolder } from './support/children.js';
import { type Lens, shownNow, startLens } from './support/lens.js';
import { watchMachine } from './support/machine.js';
import { median, NodeRig, option, pause, untilQuiet } from './support/rig.js';
import { serveFolder } from './support/serve-folder.js';
import { watchPage } from './support/watched.js';

// The encoder is cut for 1, 5 and 30 s, over and over: how long the picture of our player stands, how far behind the lens
// it is before and after, and what an RTMP receiver gets. Beside it hls.js plays what ffmpeg makes of the very same
// stream by copying (the yardstick): its picture stands for as long as the cut.

const CUTS_SECONDS = [1, 5, 30] as const;
const SETTLE_MS = 12_000;
/** After this whatever the cut has done is over, and players have caught up. */
const AFTERWARDS_MS = 14_000;
/** A turn in which the host took more of the machine's time says nothing of us: it is done again. */
const STOLEN_AT_MOST = 0.1;
const MOST_AGAIN = 30;
const BUDGET = { stillMs: 2000, stepMs: 70, soundMs: 40, delayMs: 300 };

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
  const page = await browser.newPage();
  const ours = await watchPage(page, 'playOurs', rig.liveAddress(0));
  const plain = await watchPage(await browser.newPage(), 'playPlain', `${files.url}/${lens.plainFile}`);
  await pause(SETTLE_MS);
  const sessions = receiver.sessions.length;
  const place = receiver.session!;
  /** Of sound against picture; each comes in steps of its own, so that one look would say little. */
  const offsetMs = async (): Promise<number> => {
    const looks: number[] = [];
    for (let look = 0; look < 40; look += 1) {
      await pause(37);
      looks.push(place.soundMs.at(-1)! - place.pictureMs.at(-1)!);
    }
    return median(looks);
  };
  const soundBeforeMs = await offsetMs();
  let cuts = 0;
  for (const seconds of CUTS_SECONDS) {
    const stood = { ours: [] as number[], plain: [] as number[] };
    const later: number[] = [];
    const machine = watchMachine();
    let again = 0;
    while (stood.ours.length < option('runs', 10)) {
      machine();
      const beforeMs = await delayMs(page, lens);
      await Promise.all([ours.stillMs(), plain.stillMs()]);
      cuts += 1;
      await lens.stop();
      await pause(seconds * 1000);
      lens = begin();
      await pause(AFTERWARDS_MS);
      const [oursMs, plainMs] = [await ours.stillMs(), await plain.stillMs()];
      const afterMs = await delayMs(page, lens);
      if (machine().stolen > STOLEN_AT_MOST && again < MOST_AGAIN) {
        again += 1;
        continue;
      }
      stood.ours.push(oursMs);
      stood.plain.push(plainMs);
      if (beforeMs !== null && afterMs !== null) later.push(afterMs - beforeMs);
    }
    const [longestMs, plainMs] = [Math.max(...stood.ours), median(stood.plain)];
    const laterMs = median(later);
    const isGood = longestMs <= BUDGET.stillMs && laterMs <= BUDGET.delayMs;
    passes &&= isGood;
    console.log(
      `continuity cut_s=${seconds} longest_still_ms=${Math.round(longestMs)} later_ms=${Math.round(laterMs)} ` +
        `plain_still_ms=${Math.round(plainMs)} ratio=${(longestMs / plainMs).toFixed(2)} again=${again} ${isGood ? 'PASS' : 'FAIL'}`,
    );
  }
  const soundMs = Math.abs((await offsetMs()) - soundBeforeMs);
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
  if (words !== '') console.log(words);
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
