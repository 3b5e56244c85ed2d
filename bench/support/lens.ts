import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { STRIP_PX, stripCells, stripCentres } from '@heliphon/core/signal/code-strip';
import { tied } from './children.js';
import { pause } from './rig.js';

const SIZE = { width: 640, height: 360 };
const RATE_FPS = 30;
const NUMBERS = 4096;
const SAMPLE_EVERY_MS = 150;

/** A frame with its number in the code strip. */
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

export interface Lens {
  /** When each frame was drawn, by its number; older rounds are overwritten. */
  readonly drawnAtMs: readonly number[];
  /** The same stream as plain HLS, in the lens's folder. */
  readonly plainFile: string;
  stop(): Promise<void>;
}

/** Draws thirty frames a second into an encoder that sends them, until stopped. */
export function startLens(rtmpAddress: string, folder: string): Lens {
  const drawnAtMs = new Array<number>(NUMBERS).fill(0);
  const input = `-f rawvideo -pix_fmt yuv420p -s ${SIZE.width}x${SIZE.height} -r ${RATE_FPS} -i pipe:0 -f lavfi -i sine=frequency=330:sample_rate=48000`;
  const code = `-map 0:v -map 1:a -c:v libx264 -preset ultrafast -tune zerolatency -g ${RATE_FPS * 2} -sc_threshold 0 -b:v 800k -c:a aac -b:a 96k -flags +global_header`;
  const plainFile = 'plain.m3u8';
  const outputs = `[f=flv]${rtmpAddress}|[f=hls:hls_time=2:hls_list_size=10:hls_flags=delete_segments+append_list+omit_endlist]${join(folder, plainFile)}`;
  const child = tied(
    spawn('ffmpeg', ['-v', 'error', ...input.split(' '), ...code.split(' '), '-f', 'tee', outputs], {
      stdio: ['pipe', 'ignore', 'inherit'],
    }),
  );
  // It may end while a frame is on its way to it.
  child.stdin.on('error', () => undefined);
  const beganAtMs = Date.now();
  let frame = 0;
  const timer = setInterval(() => {
    while (frame * (1000 / RATE_FPS) <= Date.now() - beganAtMs) {
      drawnAtMs[frame % NUMBERS] = Date.now();
      child.stdin.write(drawFrame(frame % NUMBERS));
      frame += 1;
    }
  }, 4);
  return {
    drawnAtMs,
    plainFile,
    stop: async () => {
      clearInterval(timer);
      const ended = once(child, 'close');
      child.stdin.end();
      child.kill('SIGTERM');
      await ended;
    },
  };
}

/** The code strip as a player shows it, sampled over a time once it has settled. */
export async function sampleShown(
  page: Page,
  play: 'playOurs' | 'playQuick' | 'playPlain',
  address: string,
  seconds: number,
  settleMs: number,
): Promise<{ atMs: number; lumas: number[] }[]> {
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
  await pause(settleMs);
  return shownNow(page, seconds * 1000);
}

/** The code strip as the page's player shows it from now on. */
export function shownNow(page: Page, forMs: number): Promise<{ atMs: number; lumas: number[] }[]> {
  return page.evaluate(
    async ({ centres, lastingMs, everyMs }) => {
      const video = document.querySelector('video')!;
      const canvas = new OffscreenCanvas(640, 360);
      const drawing = canvas.getContext('2d', { willReadFrequently: true })!;
      const samples: { atMs: number; lumas: number[] }[] = [];
      const until = Date.now() + lastingMs;
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
    { centres: stripCentres(), lastingMs: forMs, everyMs: SAMPLE_EVERY_MS },
  );
}
