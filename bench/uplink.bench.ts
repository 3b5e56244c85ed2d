import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { type AddressInfo, connect, createServer, type Socket } from 'node:net';
import { chromium } from '@playwright/test';
import { CHROMIUM } from '../tests/chromium.js';
import { ownFolder } from './support/children.js';
import { median, NodeRig, option, untilQuiet } from './support/rig.js';

// The upload that a browser measures, against the rate that a line really lets through: a proxy on loopback that hands
// on so many bits a second and no more. Yardstick: that rate.

const LINES_BPS = [2_000_000, 8_000_000, 30_000_000];
const TOLERANCE = 0.15;
const TICK_MS = 10;

/** Hands connections on to a port; from the caller so many bits a second. */
async function openSendToken(port: number, rateBps: number): Promise<{ port: number; close: () => void }> {
  const sockets = new Set<Socket>();
  const server = createServer((caller) => {
    const node = connect(port, '127.0.0.1');
    for (const socket of [caller, node]) {
      sockets.add(socket);
      socket.on('error', () => socket.destroy());
      socket.once('close', () => [caller, node].forEach((one) => one.destroy()));
    }
    node.pipe(caller);
    letThrough(caller, node, rateBps);
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  return {
    port: (server.address() as AddressInfo).port,
    close: () => {
      for (const socket of sockets) socket.destroy();
      server.close();
    },
  };
}

/** What may go through by now goes through; the rest waits where it came from. */
function letThrough(caller: Socket, node: Socket, rateBps: number): void {
  caller.pause();
  let lastMs = performance.now();
  let allowance = 0;
  const timer = setInterval(() => {
    const nowMs = performance.now();
    allowance = Math.min(allowance + ((nowMs - lastMs) * rateBps) / 8000, (rateBps / 8000) * 4 * TICK_MS);
    lastMs = nowMs;
    for (let size = Math.floor(allowance); size > 0; size = Math.floor(allowance)) {
      const chunk = (caller.read(Math.min(size, caller.readableLength)) ?? caller.read()) as Buffer | null;
      if (!chunk) return;
      allowance -= chunk.byteLength;
      node.write(chunk);
    }
  }, TICK_MS);
  caller.once('close', () => clearInterval(timer));
}

async function run(): Promise<number[]> {
  const rig = await NodeRig.start(ownFolder(), 1);
  const browser = await chromium.launch(CHROMIUM);
  try {
    const ratios: number[] = [];
    for (const rateBps of LINES_BPS) {
      const line = await openSendToken(rig.playbackPort, rateBps);
      const page = await browser.newPage();
      await page.addScriptTag({ content: await readFile('dist/bench/page/camera.js', 'utf8') });
      const measuredBps = await page.evaluate(
        (given) => (window as never as { measure: (line: object) => Promise<number> }).measure(given),
        rig.line(0, line.port),
      );
      ratios.push(measuredBps / rateBps);
      console.log(`${rateBps / 1e6} Mbit/s: measured ${(measuredBps / 1e6).toFixed(2)}`);
      await page.close();
      line.close();
    }
    return ratios;
  } finally {
    await browser.close();
    rig.stop();
    await once(rig.process, 'exit');
  }
}

const runs: number[][] = [];
for (let turn = 0; turn < option('runs', 3); turn += 1) {
  await untilQuiet();
  runs.push(await run());
}
const ratios = LINES_BPS.map((_, nth) => median(runs.map((one) => one[nth]!)));
const farthest = ratios.reduce(
  (worst, ratio) => (Math.abs(ratio - 1) > Math.abs(worst - 1) ? ratio : worst),
  1,
);
const passes = Math.abs(farthest - 1) <= TOLERANCE;
console.log(
  `uplink ratio=${farthest.toFixed(3)} of=${ratios.map((ratio) => ratio.toFixed(3)).join(',')} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
