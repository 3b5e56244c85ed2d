import { execFile, spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, watchFile } from 'node:fs';
import { chmod, rm } from 'node:fs/promises';
import { connect, type Socket } from 'node:net';
import { delimiter, join } from 'node:path';
import { promisify } from 'node:util';
import { readStrip, stripCentres } from '@heliphon/core/signal/code-strip';
import { tied } from './children.js';
import { pause } from './rig.js';
import type { Watched } from './watched.js';

const SIZE = { width: 640, height: 360 };
const LUMA_BYTES = SIZE.width * SIZE.height;
/** What was shown within this is what is shown. */
const NOW_MS = 1000;
const CENTRES = stripCentres().map(
  ({ x, y }) => Math.floor(y * SIZE.height) * SIZE.width + Math.floor(x * SIZE.width),
);
const NOBODY = 65_534;

/** Players that are programs of their own, started so that what they show can be seen. */
export const PROGRAMS: Readonly<Record<string, (address: string, folder: string) => Promise<Watched>>> = {
  ffmpeg: watchFfmpeg,
  mpv: watchMpv,
  vlc: watchVlc,
};

export const isInstalled = (program: string): boolean =>
  process.env.PATH!.split(delimiter).some((folder) => existsSync(join(folder, program)));

/** When frames came, and when the last of the lens. */
class Seen implements Watched {
  #lastAtMs = performance.now();
  #longestMs = 0;
  #lensAtMs = -Infinity;

  frame(): void {
    const nowMs = performance.now();
    this.#longestMs = Math.max(this.#longestMs, nowMs - this.#lastAtMs);
    this.#lastAtMs = nowMs;
  }

  lens(): void {
    this.#lensAtMs = performance.now();
  }

  stillMs(): Promise<number> {
    const longestMs = Math.max(this.#longestMs, performance.now() - this.#lastAtMs);
    this.#longestMs = 0;
    return Promise.resolve(longestMs);
  }

  showsLens(): Promise<boolean> {
    return Promise.resolve(performance.now() - this.#lensAtMs < NOW_MS);
  }
}

const showsLens = (luma: Buffer): boolean => readStrip(CENTRES.map((centre) => luma[centre]!)) !== null;

const run = promisify(execFile);

/** It writes what it plays, in its own time, as frames of grey. */
function watchFfmpeg(address: string): Promise<Watched> {
  const output = ['-map', '0:v', '-f', 'rawvideo', '-pix_fmt', 'gray', '-s', '640x360', 'pipe:1'];
  const stdio = ['ignore', 'pipe', 'ignore'] as const;
  const { stdout } = tied(
    spawn('ffmpeg', ['-v', 'quiet', '-re', '-i', address, ...output], { stdio: [...stdio] }),
  );
  const seen = new Seen();
  let waiting = Buffer.alloc(0);
  stdout.on('data', (chunk: Buffer) => {
    waiting = Buffer.concat([waiting, chunk]);
    for (; waiting.byteLength >= LUMA_BYTES; waiting = waiting.subarray(LUMA_BYTES)) {
      seen.frame();
      if (showsLens(waiting)) seen.lens();
    }
  });
  return Promise.resolve(seen);
}

/** It writes every sixth frame that it shows into a file, over the last one. */
async function watchVlc(address: string, folder: string): Promise<Watched> {
  const scenes = ['scene-path', folder, 'scene-prefix', 'vlc', 'scene-format', 'png', 'scene-ratio', '6'];
  const options = scenes.map((word, index) => (index % 2 === 0 ? `--${word}` : word));
  const shown = ['--vout', 'yuv', '--yuv-file', '/dev/null', '--video-filter', 'scene', '--scene-replace'];
  // VLC does not run as root.
  await chmod(folder, 0o777);
  const nobody = process.getuid?.() === 0 ? { uid: NOBODY, gid: NOBODY } : {};
  const settings = { ...nobody, env: { ...process.env, HOME: folder }, stdio: 'ignore' } as const;
  tied(spawn('cvlc', ['--no-audio', '--quiet', ...shown, ...options, address], settings));
  const seen = new Seen();
  const picture = join(folder, 'vlc.png');
  watchFile(picture, { interval: 50 }, () => seen.frame()).unref();
  return { stillMs: () => seen.stillMs(), showsLens: () => showsLensIn(picture) };
}

/** It says where it is with every frame, and writes down what it shows when it is asked to. */
async function watchMpv(address: string, folder: string): Promise<Watched> {
  const path = join(folder, 'mpv');
  const options = ['--no-config', '--vo=null', '--ao=null', '--really-quiet', `--input-ipc-server=${path}`];
  tied(spawn('mpv', [...options, address], { stdio: 'ignore' }));
  const seen = new Seen();
  const socket = await dial(path);
  const tell = (...command: unknown[]): void => void socket.write(`${JSON.stringify({ command })}\n`);
  tell('observe_property', 1, 'time-pos');
  socket.on('data', (words) => {
    if (String(words).includes('"property-change"')) seen.frame();
  });
  return {
    stillMs: () => seen.stillMs(),
    showsLens: async () => {
      const shot = join(folder, 'mpv.png');
      await rm(shot, { force: true });
      tell('screenshot-to-file', shot, 'video');
      await pause(NOW_MS / 2);
      return showsLensIn(shot);
    },
  };
}

/** Whether a picture in a file shows the lens. */
async function showsLensIn(path: string): Promise<boolean> {
  const output = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', '640x360', 'pipe:1'];
  const options = { encoding: 'buffer', maxBuffer: 2 * LUMA_BYTES } as const;
  return run('ffmpeg', ['-v', 'quiet', '-i', path, ...output], options).then(
    ({ stdout }) => showsLens(stdout),
    () => false,
  );
}

/** A socket that its owner has yet to open. */
async function dial(path: string): Promise<Socket> {
  while (!existsSync(path)) await pause(100);
  const socket = connect(path);
  await once(socket, 'connect');
  return socket;
}
