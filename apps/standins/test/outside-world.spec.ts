import { spawn, spawnSync } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { EncoderStandIn } from '../src/encoder/encoder.js';
import { FILM, FramePainter } from '../src/film/frames.js';
import { PlatformStandIn } from '../src/platform/platform.js';

const FRAME = 917;
const KEY = 'a-key-that-nobody-should-read';
let folder: string;
let film: string;
let port: number;
const platform = new PlatformStandIn();

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'heliphon-outside-'));
  film = join(folder, 'film.flv');
  const painter = await FramePainter.open();
  const input = `-f rawvideo -pix_fmt rgb24 -s ${FILM.widthPx}x${FILM.heightPx} -r 10 -i pipe:0 -f lavfi -t 1 -i sine`;
  const code = '-c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 10 -c:a aac -f flv';
  const picture = painter.paint(FRAME);
  spawnSync('ffmpeg', ['-v', 'error', ...input.split(' '), ...code.split(' '), film], {
    input: Buffer.concat(Array.from({ length: 10 }, () => picture)),
    maxBuffer: 1 << 28,
  });
  port = await new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
  await platform.listen(port, '127.0.0.1');
});
afterAll(async () => {
  await platform.close();
  await rm(folder, { recursive: true, force: true });
});

async function until(holds: () => boolean | Promise<boolean>, what: string): Promise<void> {
  const deadline = Date.now() + 15_000;
  while (!(await holds())) {
    if (Date.now() > deadline) throw new Error(`Waited in vain for ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
const stream = (name: string) => platform.streams.find(({ streamName }) => streamName === name);
const isLive = (name: string): boolean => stream(name)?.isLive ?? false;

describe('the simulated encoder', () => {
  test('sends its film over and over, until it is stopped', async () => {
    const encoder = new EncoderStandIn('pier', film);
    expect(encoder.view).toEqual({ name: 'pier', state: 'stopped', lastWords: '' });
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'lasting' });
    await until(() => isLive('lasting'), 'the stream');
    const before = stream('lasting')!.receivedBytes;
    await until(() => stream('lasting')!.receivedBytes > before, 'more than one loop');
    expect(encoder.view.state).toBe('sending');
    encoder.stop();
    await until(() => !isLive('lasting'), 'the end');
    expect(encoder.view.state).toBe('stopped');
  });

  test('drops for as long as it is told, and is back by itself', async () => {
    const encoder = new EncoderStandIn('pier', film);
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'dropping' });
    await until(() => isLive('dropping'), 'the stream');
    encoder.drop(1);
    expect(encoder.view.state).toBe('dropped');
    await until(() => !isLive('dropping'), 'the drop');
    await until(() => isLive('dropping'), 'its return');
    expect(stream('dropping')!.connections).toBe(2);
    encoder.stop();
  });

  test('that is refused tries again, and never shows its key', async () => {
    platform.setMode(KEY, 'refuse');
    const encoder = new EncoderStandIn('pier', film);
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live/`, key: KEY });
    await until(() => encoder.view.state === 'trying again', 'the refusal');
    expect(encoder.view.lastWords).not.toContain(KEY);
    platform.setMode(KEY, 'accept');
    await until(() => isLive(KEY), 'the next try');
    encoder.stop();
  });
});

describe('the simulated platform', () => {
  test('reads the frame’s number off what it receives, and makes a picture of it', async () => {
    const sender = spawn('ffmpeg', [
      '-v',
      'quiet',
      '-re',
      '-i',
      film,
      '-c',
      'copy',
      '-f',
      'flv',
      `rtmp://127.0.0.1:${port}/live/seen`,
    ]);
    await until(async () => (await platform.frameNumber('seen')) !== null, 'a keyframe');
    expect(await platform.frameNumber('seen')).toBe(FRAME);
    expect((await platform.picture('seen'))!.subarray(0, 2).toString('hex')).toBe('ffd8');
    sender.kill('SIGKILL');
  });

  test('knows nothing of what never came', async () => {
    expect(await platform.frameNumber('never')).toBeNull();
    expect(await platform.picture('never')).toBeNull();
  });
});
