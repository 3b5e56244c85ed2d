import { randomBytes } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { type Socket, connect } from 'node:net';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { generate } from 'selfsigned';
import { TRYING_RULE } from '@heliphon/core/access/token-bucket';
import { TRACK_ID } from '@heliphon/core/media/track';
import { readInitTracks } from '@heliphon/core/packaging/read-boxes';
import { CONNECTION_LIMITS } from '../src/ingest/rtmp-server.js';
import { NodeDriver, until } from './driver.js';

// Faults on the wire itself, against a media node of one's own. What encoders do to their clocks and their codecs is
// told of the packager, in packages/core/test, where every step can be made; here stand those that a real one makes.

/** After four seconds pictures and sound are stamped an hour later. */
const LEAP = ['-bsf:v', "setts=ts='TS+gt(N,100)*3600000'", '-bsf:a', "setts=ts='TS+gt(N,172)*3600000'"];

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

describe('encoders', () => {
  test('may send sound without a picture: it plays with a still one, and the house is told what is missing', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    const codec = ['-vn', '-c:a', 'aac', '-ac', '2'];
    driver.encode({ codec: ['-map', '1:a', ...codec] });
    await driver.untilSegments(2);
    expect(driver.report).toMatchObject({ video: null, audio: { codec: 'mp4a.40.2' } });
    const init = Buffer.from(await (await fetch(driver.address('init-0.mp4', 'desk'))).arrayBuffer());
    expect(readInitTracks(init).map(({ trackId }) => trackId)).toEqual([TRACK_ID.video, TRACK_ID.audio]);
  });

  test('may change size in mid-stream: a new init segment stands behind a discontinuity', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    const first = driver.encode({ size: '320x180' });
    await driver.untilSegments(1);
    await first.stop();
    driver.encode({ size: '640x360' });
    await until(async () => (await driver.playlist()).includes('init-1.mp4'), 'the second size');
    await driver.untilSegments(3);
    expect(await driver.playlist()).toMatch(/#EXT-X-DISCONTINUITY\n#EXT-X-MAP:URI="init-1.mp4"/);
    expect(driver.report?.video).toMatchObject({ widthPx: 640, heightPx: 360 });
  });

  test('with a keyframe every 20 s are served in parts, and what they send is told', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    const codec = '-c:v libx264 -preset ultrafast -g 500 -sc_threshold 0 -pix_fmt yuv420p -c:a aac'.split(
      ' ',
    );
    driver.encode({ codec });
    await driver.untilSegments(2);
    const lengths = [...(await driver.playlist()).matchAll(/#EXTINF:([\d.]+)/g)].map((match) =>
      Number(match[1]),
    );
    for (const seconds of lengths) expect(seconds).toBeLessThanOrEqual(4.2);
  });

  test('come over TLS with a certificate of the house’s choice', async () => {
    const pems = await generate([{ name: 'commonName', value: 'localhost' }], { keySize: 2048 });
    const files = {
      certificateFile: join(driver.folder, 'tls.pem'),
      keyFile: join(driver.folder, 'tls.key'),
    };
    await writeFile(files.certificateFile, pems.cert);
    await writeFile(files.keyFile, pems.private);
    await driver.restart({ secureRtmp: { port: 0, ...files } });
    await driver.desire({ programmes: [driver.onAir()] });
    driver.encode({
      address: driver.rtmpAddress.replace(/rtmp:\/\/[^/]+/, `rtmps://127.0.0.1:${driver.node.rtmpsPort}`),
    });
    await until(() => driver.report?.protocol === 'rtmps' && driver.report?.video, 'a secured picture');
  });

  test('that hang on without a word are bounded in number', async () => {
    const sockets: Socket[] = [];
    for (let count = 0; count < CONNECTION_LIMITS.perAddress + 5; count += 1)
      sockets.push(connect(driver.node.rtmpPort, '127.0.0.1').on('error', () => undefined));
    for (const socket of sockets) socket.resume();
    await until(() => sockets.filter((socket) => socket.closed).length === 5, 'exactly five closed');
    for (const socket of sockets) socket.destroy();
  });

  test('with wrong keys are told about a few times only, and the right key still comes in', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    const wrong = driver.rtmpAddress.replace(driver.key, 'wrong');
    const tries = Array.from({ length: TRYING_RULE.burst + 6 }, () =>
      driver.encode({ address: wrong, seconds: 1 }),
    );
    const words = await Promise.all(tries.map(({ ended }) => ended));
    expect(words.some((said) => said.includes('Too many wrong tries'))).toBe(true);
    const journal = await readFile(join(driver.folder, 'node', 'journal.jsonl'), 'utf8');
    expect(journal.match(/"unknown-key"/g)!.length).toBeLessThanOrEqual(TRYING_RULE.burst + 3);
    driver.encode();
    await until(() => driver.report?.video, 'the right one');
  });

  test.each([
    ['leaps an hour forward', LEAP],
    ['passes the end of what 32 bits can count', ['-output_ts_offset', '4294961']],
  ])('whose clock %s go on', async (_, clock) => {
    await driver.desire({ programmes: [driver.onAir()] });
    const codec = '-c:v libx264 -preset ultrafast -g 50 -pix_fmt yuv420p -c:a aac'.split(' ');
    driver.encode({ codec: [...codec, ...clock] });
    await driver.untilSegments(5);
    const lengths = [...(await driver.playlist()).matchAll(/#EXTINF:([\d.]+)/g)].map((match) =>
      Number(match[1]),
    );
    for (const seconds of lengths) expect(seconds).toBeLessThanOrEqual(4.2);
    expect(driver.node.figures().programmes[0]!.signal.present).toBe(true);
  });

  test('that are none, and send garbage, disturb nobody', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    driver.encode();
    await until(() => driver.report?.video, 'the picture');
    await Promise.all(
      Array.from(
        { length: 40 },
        () =>
          new Promise<void>((resolve) => {
            const socket = connect(driver.node.rtmpPort, '127.0.0.1', () => socket.end(randomBytes(5000)));
            socket.resume(); // what is answered to bytes that look like a greeting
            socket.on('error', () => resolve());
            socket.on('close', () => resolve());
          }),
      ),
    );
    expect((await fetch(driver.address('live.m3u8'))).status).toBe(200);
    expect(driver.node.figures().sources).toHaveLength(1);
  });
});
