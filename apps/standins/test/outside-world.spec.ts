import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtemp, rm } from 'node:fs/promises';
import { type AddressInfo, createServer, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createTransport } from 'nodemailer';
import { parseAvcConfig } from '@heliphon/core/ingest/codec-config';
import { parseVideoTag } from '@heliphon/core/ingest/flv-tags';
import { RtmpServerSession, type SessionSignal } from '@heliphon/core/ingest/rtmp-server-session';
import { freePort } from '../../keeper/src/ports.js';
import { type EncoderFault, EncoderStandIn } from '../src/encoder/encoder.js';
import { FILM, FramePainter } from '../src/film/frames.js';
import { MailBox } from '../src/mail/mail-box.js';
import { PlatformStandIn } from '../src/platform/platform.js';
import { until } from '../../../tests/until.js';

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
  port = await freePort();
  await platform.listen(port, '127.0.0.1');
});
afterAll(async () => {
  await platform.close();
  await rm(folder, { recursive: true, force: true });
});

const stream = (name: string) => platform.streams.find(({ streamName }) => streamName === name);
const isLive = (name: string): boolean => stream(name)?.isLive ?? false;

describe('the simulated encoder', () => {
  test('sends its film over and over, until it is stopped', async () => {
    const encoder = new EncoderStandIn('pier', film);
    expect(encoder.view).toEqual({ name: 'pier', state: 'stopped', lastWords: '', fault: 'none' });
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'lasting' });
    await until(() => isLive('lasting'), 'the stream');
    const before = stream('lasting')!.receivedBytes;
    await until(() => stream('lasting')!.receivedBytes > before, 'more than one loop');
    expect(encoder.view.state).toBe('sending');
    encoder.stop();
    await until(() => !isLive('lasting'), 'the end');
    expect(encoder.view.state).toBe('stopped');
  });

  test('drops for as long as it is told, and is back by itself or by hand', async () => {
    const encoder = new EncoderStandIn('pier', film);
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'dropping' });
    await until(() => isLive('dropping'), 'the stream');
    encoder.drop(1);
    expect(encoder.view.state).toBe('dropped');
    await until(() => !isLive('dropping'), 'the drop');
    await until(() => isLive('dropping'), 'its return');
    expect(stream('dropping')!.connections).toBe(2);
    encoder.drop(null);
    await until(() => !isLive('dropping'), 'the second drop');
    encoder.plugIn();
    await until(() => isLive('dropping'), 'its return by hand');
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

describe('the encoder’s faults', () => {
  /** What a connection that takes the place of the platform is told of its streams. */
  async function sentBy(fault: EncoderFault): Promise<{ kinds: Set<string>; widthPx: number | null }> {
    const session = new RtmpServerSession(randomBytes(1528));
    const kinds = new Set<string>();
    let widthPx: number | null = null;
    const obey = (socket: Socket, signals: readonly SessionSignal[]): void => {
      for (const signal of signals) {
        if (signal.type === 'send') socket.write(signal.bytes);
        if (signal.type === 'connect-asked') obey(socket, session.acceptConnect());
        if (signal.type === 'publish-asked') obey(socket, session.acceptPublish());
        if (signal.type !== 'media') continue;
        kinds.add(signal.kind);
        const tag = signal.kind === 'video' ? parseVideoTag(signal.payload) : null;
        const config = tag?.type === 'config' ? parseAvcConfig(tag.avcConfig) : null;
        if (config?.ok) widthPx = config.value.widthPx;
      }
    };
    const server = createServer((socket) => {
      socket.on('error', () => socket.destroy());
      socket.on('data', (bytes) => obey(socket, session.receive(bytes)));
    });
    server.listen(0, '127.0.0.1');
    await once(server, 'listening');
    const { port: own } = server.address() as AddressInfo;
    const encoder = new EncoderStandIn('pier', film);
    encoder.setFault(fault);
    encoder.start({ address: `rtmp://127.0.0.1:${own}/live`, key: 'faulty' });
    await until(() => widthPx !== null && (fault === 'silence' || kinds.has('audio')), 'what it sends');
    encoder.stop();
    server.close();
    return { kinds, widthPx };
  }

  test('silence sends a picture and no sound at all', async () => {
    expect((await sentBy('silence')).kinds.has('audio')).toBe(false);
  });

  test('another size is another size, with its sound', async () => {
    const { kinds, widthPx } = await sentBy('other size');
    expect([kinds.has('audio'), widthPx]).toEqual([true, 640]);
  });

  test('a fault that is set while it sends is met by a new connection', async () => {
    const encoder = new EncoderStandIn('pier', film);
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'changing' });
    await until(() => isLive('changing'), 'the stream');
    encoder.setFault('other size');
    await until(() => stream('changing')!.connections === 2, 'the new connection');
    expect(encoder.view).toMatchObject({ fault: 'other size', state: 'sending' });
    encoder.stop();
  });

  test('a stuttering network lets through in bursts, and stopping ends it for good', async () => {
    const encoder = new EncoderStandIn('pier', film);
    encoder.setFault('stutter');
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'stuttering' });
    await until(() => isLive('stuttering'), 'the stream');
    const isQuiet = (): boolean => Date.now() - (stream('stuttering')!.lastByteAtMs ?? 0) > 700;
    await until(isQuiet, 'a gap');
    await until(() => !isQuiet(), 'the next burst');
    encoder.stop();
    await until(() => !isLive('stuttering'), 'the end');
  });
});

describe('the simulated mail box', () => {
  test('takes what it is sent, shows it, and keeps the last two hundred', async () => {
    const box = new MailBox();
    const own = await freePort();
    await box.listen(own, '127.0.0.1');
    const post = createTransport({ host: '127.0.0.1', port: own, pool: true });
    const write = (subject: string): Promise<unknown> =>
      post.sendMail({
        from: 'us@quay.example',
        to: 'odo@mill.example',
        subject,
        text: 'Zażółć, with a link',
      });
    await write('first');
    expect(box.letters).toMatchObject([{ to: 'odo@mill.example', subject: 'first' }]);
    expect(box.letters[0]!.text).toContain('Zażółć');
    for (let nth = 0; nth < 200; nth += 1) await write(`letter ${nth}`);
    expect(box.letters).toHaveLength(200);
    expect(box.letters[0]!.subject).toBe('letter 0');
    post.close();
    await box.close();
  });
});

describe('the simulated platform', () => {
  test('that closes takes the stream and hangs up after a while, again and again', async () => {
    platform.setMode('closing', 'close');
    const encoder = new EncoderStandIn('pier', film);
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'closing' });
    await until(() => isLive('closing'), 'the stream');
    await until(() => stream('closing')!.connections === 2, 'the next connection');
    encoder.stop();
  });

  test('that stalls takes the connection and reads nothing more', async () => {
    platform.setMode('stalling', 'stall');
    const encoder = new EncoderStandIn('pier', film);
    encoder.start({ address: `rtmp://127.0.0.1:${port}/live`, key: 'stalling' });
    await until(() => stream('stalling')?.connections === 1, 'the connection');
    expect(stream('stalling')!.receivedBytes).toBeLessThan(65_536);
    expect(await platform.frameNumber('stalling')).toBeNull();
    encoder.stop();
  });

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
