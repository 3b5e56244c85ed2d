import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { planLadder, type RenditionChoice } from '@heliphon/core/ladder/renditions';
import { readStrip } from '@heliphon/core/signal/code-strip';
import { ladderArgs } from '../apps/media/src/renditions/ladder-args.js';
import { CHROMIUM } from '../tests/chromium.js';
import { ownFolder, tied } from './support/children.js';
import { type Lens, sampleShown, startLens } from './support/lens.js';
import { coresOf, makeFilm, median, NodeRig, option, pause, sendFilm, untilQuiet } from './support/rig.js';

// Processor time of a programme with its original, 480 and 360 lines, against one bare `ffmpeg` that takes the same stream
// and makes the same three outputs as HLS (the yardstick); how much later the smallest is seen than the original; and
// whether a viewer who changes between sizes loses a picture.

const SIZES: RenditionChoice = [480, 360].map((heightPx) => ({ heightPx, videoBitrateBps: null }));
const SOURCE = { widthPx: 1280, heightPx: 720, frameRateFps: 30, videoBitrateBps: 2_372_000 };
const BUDGET_RATIO = 1.15;
const BARE_PORT = 21_600;
/** With one programme it takes V8 most of a minute to compile what a service then runs for hours. */
const WARM_UP_MS = 60_000;
const SETTLE_MS = 10_000;

async function measureOurs(folder: string, film: string, seconds: number): Promise<number> {
  const rig = await NodeRig.start(join(folder, 'ours'), 1, { signals: 'unchecked', renditions: SIZES });
  const sender = sendFilm(film, rig.rtmpAddress(0));
  await pause(WARM_UP_MS);
  const cores = await coresOf([rig.process.pid!], seconds);
  sender.kill('SIGKILL');
  rig.stop();
  await once(rig.process, 'exit');
  return cores;
}

/** The same encodes, told in the same words, from the same input. */
async function measureBare(folder: string, film: string, seconds: number): Promise<number> {
  const out = join(folder, 'bare');
  await mkdir(out);
  const { renditions } = planLadder(SIZES, SOURCE, Infinity);
  const told = ladderArgs(renditions.map((plan) => ({ plan, afterMs: -1 })));
  const hls = (name: string): string[] => [
    '-f',
    'hls',
    '-hls_segment_type',
    'fmp4',
    '-hls_time',
    '2',
    join(out, `${name}.m3u8`),
  ];
  const input = ['-listen', '1', '-i', `rtmp://127.0.0.1:${BARE_PORT}/live/x`];
  const args = told
    .join('\n')
    .replace(/^-f\nflv\n-i\npipe:0$/m, input.join('\n'))
    .replace(
      /^-flush_packets\n1\n-flvflags\nno_duration_filesize\n-f\nflv\npipe:(\d)$/gm,
      (_all, pipe: string) => ['-map', '0:a', '-c:a', 'copy', ...hls(`size-${pipe}`)].join('\n'),
    )
    .split('\n');
  const receiver = tied(
    spawn('ffmpeg', [...args, '-map', '0', '-c', 'copy', ...hls('original')], { stdio: 'ignore', cwd: out }),
  );
  await pause(2000);
  const sender = sendFilm(film, `rtmp://127.0.0.1:${BARE_PORT}/live/x`);
  await pause(WARM_UP_MS);
  const cores = await coresOf([receiver.pid!], seconds);
  for (const child of [sender, receiver]) child.kill('SIGKILL');
  return cores;
}

async function secondsBehind(page: Page, lens: Lens, address: string, seconds: number): Promise<number> {
  const shown = await sampleShown(page, 'playOurs', address, seconds, SETTLE_MS);
  return median(
    shown.flatMap(({ atMs, lumas }) => {
      const number = readStrip(lumas);
      return number === null ? [] : [(atMs - lens.drawnAtMs[number]!) / 1000];
    }),
  );
}

/**
 * Changes between the sizes every four seconds. @returns the longest step between two pictures that were drawn, in ms, and
 * how often the player jumped: without a jump it played every picture, drawn or not.
 */
async function switching(
  page: Page,
  address: string,
  seconds: number,
): Promise<{ stepMs: number; jumps: number }> {
  await sampleShown(page, 'playOurs', address, 0, SETTLE_MS);
  return page.evaluate(async (forMs) => {
    const video = document.querySelector('video')!;
    const { engine } = window as never as { engine: { chooseHeight(heightPx: number | null): void } };
    let [lastMs, longestMs, turn, jumps] = [video.currentTime * 1000, 0, 0, 0];
    video.addEventListener('seeking', () => (jumps += 1));
    const shown: VideoFrameRequestCallback = (_now, { mediaTime }) => {
      longestMs = Math.max(longestMs, mediaTime * 1000 - lastMs);
      lastMs = mediaTime * 1000;
      video.requestVideoFrameCallback(shown);
    };
    video.requestVideoFrameCallback((now, facts) => {
      lastMs = facts.mediaTime * 1000;
      shown(now, facts);
    });
    const heights = [180, 360, 240, 360];
    const timer = setInterval(() => engine.chooseHeight(heights[turn++ % heights.length]!), 4000);
    await new Promise((resolve) => setTimeout(resolve, forMs));
    clearInterval(timer);
    return { stepMs: longestMs, jumps };
  }, seconds * 1000);
}

async function measureSeen(folder: string, seconds: number) {
  const renditions: RenditionChoice = [240, 180].map((heightPx) => ({ heightPx, videoBitrateBps: 300_000 }));
  const rig = await NodeRig.start(join(folder, 'seen'), 1, { signals: 'unchecked', renditions });
  const lens = startLens(rig.rtmpAddress(0), folder);
  const browser = await chromium.launch(CHROMIUM);
  try {
    await pause(8000);
    const page = await browser.newPage();
    const original = await secondsBehind(page, lens, rig.liveAddress(0), seconds);
    const smallest = await secondsBehind(
      page,
      lens,
      rig.liveAddress(0).replace('live.m3u8', 'r/180p/live.m3u8'),
      seconds,
    );
    const switched = await switching(page, rig.liveAddress(0).replace('live.m3u8', 'main.m3u8'), seconds);
    return { laterSeconds: smallest - original, original, smallest, ...switched };
  } finally {
    await browser.close();
    await lens.stop();
    rig.stop();
    await once(rig.process, 'exit');
  }
}

const seconds = option('seconds', 40);
const results: (Awaited<ReturnType<typeof measureSeen>> & { readonly ratio: number })[] = [];
for (let turn = 0; turn < option('runs', 3); turn += 1) {
  const folder = ownFolder();
  const film = join(folder, 'film.flv');
  makeFilm(film);
  await untilQuiet();
  const ours = await measureOurs(folder, film, seconds);
  await untilQuiet();
  const bare = await measureBare(folder, film, seconds);
  await untilQuiet();
  const seen = await measureSeen(folder, seconds);
  console.log(
    `run ${turn + 1}: ours ${ours.toFixed(3)}, bare ${bare.toFixed(3)} cores; original ${seen.original.toFixed(2)}, smallest ${seen.smallest.toFixed(2)} s behind; longest step between two pictures ${seen.stepMs.toFixed(0)} ms, ${seen.jumps} jumps`,
  );
  results.push({ ratio: ours / bare, ...seen });
}
const of = (pick: (result: (typeof results)[number]) => number): number => median(results.map(pick));
const ratio = of((result) => result.ratio);
const passes = ratio <= BUDGET_RATIO;
console.log(
  `ladder ratio=${ratio.toFixed(2)} later=${of((result) => result.laterSeconds).toFixed(2)} s step=${of((result) => result.stepMs).toFixed(0)} ms jumps=${of((result) => result.jumps)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
