import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { basename, join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { readStrip, STRIP_PX, stripCells, stripCentres } from '@heliphon/core/signal/code-strip';
import { ownFolder, tied } from './support/children.js';
import { median, NodeRig, option, pause, quantile, untilQuiet } from './support/rig.js';
import { CHROMIUM } from '../tests/chromium.js';

// From a frame being drawn to its being shown: our player on our low-latency playlist, then hls.js as it comes on plain
// HLS with 2 s segments that ffmpeg makes of the very same stream (the yardstick).

const SIZE = { width: 640, height: 360 };
const RATE_FPS = 30;
const NUMBERS = 4096;
const SETTLE_MS = 12_000;
const SAMPLE_EVERY_MS = 150;
const MIN_SAMPLES = 300;
const BUDGET = { medianSeconds: 1.7, p95Seconds: 2.2 };

/** When each frame was drawn, by its number; older rounds are overwritten. */
const drawnAtMs = new Array<number>(NUMBERS).fill(0);

function drawFrame(number: number): Buffer {
  const luma = Buffer.alloc(SIZE.width * SIZE.height, 60 + (number % 90));
  const scale = SIZE.width / STRIP_PX.ofWidth;
  stripCells(number).forEach((cell, index) => {
    const left = Math.round((STRIP_PX.left + index * STRIP_PX.cellWidth) * scale);
    for (let y = Math.round(STRIP_PX.top * scale); y < (STRIP_PX.top + STRIP_PX.cellHeight) * scale; y += 1) {
      luma.fill(cell ? 235 : 16, y * SIZE.width + left, y * SIZE.width + left + STRIP_PX.cellWidth * scale);
    }
  });
  return Buffer.concat([luma, Buffer.alloc((SIZE.width * SIZE.height) / 2, 128)]);
}

/** Draws thirty frames a second into an encoder that sends to both, until stopped. */
function startLens(rtmpAddress: string, folder: string): () => Promise<void> {
  const input = `-f rawvideo -pix_fmt yuv420p -s ${SIZE.width}x${SIZE.height} -r ${RATE_FPS} -i pipe:0 -f lavfi -i sine=frequency=330:sample_rate=48000`;
  const code = `-map 0:v -map 1:a -c:v libx264 -preset ultrafast -tune zerolatency -g ${RATE_FPS * 2} -sc_threshold 0 -b:v 800k -c:a aac -b:a 96k -flags +global_header`;
  const plain = join(folder, 'plain.m3u8');
  const outputs = `[f=flv]${rtmpAddress}|[f=hls:hls_time=2:hls_list_size=10:hls_flags=delete_segments]${plain}`;
  const child = tied(
    spawn('ffmpeg', ['-v', 'error', ...input.split(' '), ...code.split(' '), '-f', 'tee', outputs], {
      stdio: ['pipe', 'ignore', 'inherit'],
    }),
  );
  const beganAtMs = Date.now();
  let frame = 0;
  const timer = setInterval(() => {
    while (frame * (1000 / RATE_FPS) <= Date.now() - beganAtMs) {
      drawnAtMs[frame % NUMBERS] = Date.now();
      child.stdin.write(drawFrame(frame % NUMBERS));
      frame += 1;
    }
  }, 4);
  return async () => {
    clearInterval(timer);
    const ended = once(child, 'close');
    child.stdin.end();
    child.kill('SIGTERM');
    await ended;
  };
}

async function serveFolder(folder: string): Promise<{ url: string; close: () => void }> {
  const server = createServer((request, response) => {
    const path = join(folder, basename(new URL(request.url ?? '/', 'http://x').pathname));
    stat(path).then(
      () => {
        response.writeHead(200, { 'Access-Control-Allow-Origin': '*', 'Cache-Control': 'no-store' });
        createReadStream(path).pipe(response);
      },
      () => response.writeHead(404).end(),
    );
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, close: () => server.close() };
}

/** Seconds from drawn to shown, sampled over a time; a picture that cannot be read or stands still counts as it is. */
async function measure(
  page: Page,
  play: 'playOurs' | 'playPlain',
  address: string,
  seconds: number,
): Promise<number[]> {
  await page.setContent('<video muted playsinline width="640" height="360"></video>');
  await page.addScriptTag({ content: await readFile('dist/bench/page/player.js', 'utf8') });
  await page.evaluate(
    ([name, url]) =>
      (window as never as Record<string, (video: Element, url: string) => void>)[name!]!(
        document.querySelector('video')!,
        url!,
      ),
    [play, address],
  );
  await pause(SETTLE_MS);
  const shown = await page.evaluate(
    async ({ centres, forMs, everyMs }) => {
      const video = document.querySelector('video')!;
      const canvas = new OffscreenCanvas(640, 360);
      const drawing = canvas.getContext('2d', { willReadFrequently: true })!;
      const samples: { atMs: number; lumas: number[] }[] = [];
      const until = Date.now() + forMs;
      while (Date.now() < until) {
        await new Promise((resolve) => setTimeout(resolve, everyMs));
        drawing.drawImage(video, 0, 0, 640, 360);
        const atMs = Date.now();
        const pixels = drawing.getImageData(0, 0, 640, 360).data;
        samples.push({
          atMs,
          lumas: centres.map(
            ({ x, y }) => pixels[(Math.floor(y * 360) * 640 + Math.floor(x * 640)) * 4 + 1]!,
          ),
        });
      }
      return samples;
    },
    { centres: stripCentres(), forMs: seconds * 1000, everyMs: SAMPLE_EVERY_MS },
  );
  return shown.flatMap(({ atMs, lumas }) => {
    const number = readStrip(lumas);
    return number === null ? [] : [(atMs - drawnAtMs[number]!) / 1000];
  });
}

async function run(seconds: number): Promise<{ medianSeconds: number; p95Seconds: number; ratio: number }> {
  const folder = ownFolder();
  const rig = await NodeRig.start(folder, 1);
  const files = await serveFolder(folder);
  const stopLens = startLens(rig.rtmpAddress(0), folder);
  const browser = await chromium.launch(CHROMIUM);
  try {
    await pause(6000);
    const page = await browser.newPage();
    const ours = await measure(page, 'playOurs', rig.liveAddress(0), seconds);
    const plain = await measure(page, 'playPlain', `${files.url}/plain.m3u8`, seconds);
    console.log(
      `ours: ${ours.length} samples, plain: ${plain.length} samples, plain median ${median(plain).toFixed(2)} s`,
    );
    if (Math.min(ours.length, plain.length) < Math.min(MIN_SAMPLES, seconds * 5))
      throw new Error('Too few samples could be read');
    return {
      medianSeconds: median(ours),
      p95Seconds: quantile(ours, 0.95),
      ratio: median(ours) / median(plain),
    };
  } finally {
    await browser.close();
    await stopLens();
    files.close();
    rig.stop();
    await once(rig.process, 'exit');
  }
}

const results: Awaited<ReturnType<typeof run>>[] = [];
for (let turn = 0; turn < option('runs', 3); turn += 1) {
  await untilQuiet();
  results.push(await run(option('seconds', 60)));
}
const of = (pick: (result: (typeof results)[number]) => number): number => median(results.map(pick));
const [medianS, p95S] = [of((r) => r.medianSeconds), of((r) => r.p95Seconds)];
const passes = medianS <= BUDGET.medianSeconds && p95S <= BUDGET.p95Seconds;
console.log(
  `latency median_s=${medianS.toFixed(2)} p95_s=${p95S.toFixed(2)} ratio=${of((r) => r.ratio).toFixed(2)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
