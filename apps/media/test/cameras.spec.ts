import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { WebSocket } from 'ws';
import { MEASURING, steadyUploadBps, type UploadSample } from '@heliphon/core/ladder/upload-measure';
import type { ToCamera } from '@heliphon/core/ingest/camera-protocol';
import { CameraDriver, lineOf, newToken } from './camera-driver.js';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
let token: string;
let camera: CameraDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
  token = newToken();
  await driver.desire({
    sources: [driver.source({ lines: [lineOf(token)] })],
    programmes: [driver.onAir()],
  });
  camera = new CameraDriver(driver.origin, token);
});
afterEach(async () => {
  camera.close();
  await driver.close();
});

const segmentsIn = (playlist: string): number => playlist.match(/^seg-/gm)?.length ?? 0;

describe('a browser with a camera', () => {
  test('is a source like any other: its picture as it was recorded, its sound as AAC', async () => {
    camera.connect();
    camera.record();
    await driver.untilSegments(2);
    expect(driver.report).toMatchObject({
      protocol: 'camera',
      encoder: 'Test',
      video: { widthPx: 320, heightPx: 180 },
      audio: { codec: 'mp4a.40.2', sampleRateHz: 48_000, channels: 2 },
    });
    expect(driver.report!.video!.codec).toMatch(/^avc1/);
  });

  test('loses its network for longer than a silence lasts, and nothing that was recorded is lost', async () => {
    camera.connect();
    camera.record();
    await driver.untilSegments(2);
    camera.disconnect();
    await until(
      () => driver.node.figures().programmes[0]?.signal.present === false,
      'the silence to be seen',
    );
    camera.connect();
    await until(() => driver.node.figures().programmes[0]?.signal.present === true, 'the picture');
    const before = segmentsIn(await driver.playlist());
    await until(() => camera.isConfirmed, 'everything to arrive');
    await driver.untilSegments(before + 2);
    const playlist = await driver.playlist();
    expect(playlist).not.toMatch(/^#EXT-X-DISCONTINUITY$/m);
    // A hole as long as that silence would stand behind a discontinuity, a shorter one would stretch its segment.
    const lengths = [...playlist.matchAll(/#EXTINF:([\d.]+)/g)].map(([, seconds]) => Number(seconds));
    expect(lengths.every((seconds) => seconds === 2)).toBe(true);
    expect(playlist.match(/#EXT-X-MAP/g)).toHaveLength(1);
  });

  test('goes on in another size when another camera is chosen', async () => {
    camera.connect();
    camera.record();
    await driver.untilSegments(1);
    camera.record(undefined, undefined, '180x320');
    await until(() => driver.report?.video?.heightPx === 320, 'the upright picture');
    await until(async () => /^#EXT-X-DISCONTINUITY$/m.test(await driver.playlist()), 'the change');
  });

  test('that stops on purpose is gone at once, and may begin again', async () => {
    camera.connect();
    camera.record();
    await driver.untilSegments(1);
    camera.stop();
    await until(() => driver.node.figures().sources.length === 0, 'the source to be free');
    camera = new CameraDriver(driver.origin, token);
    camera.connect();
    camera.record();
    await until(() => driver.report?.video, 'the picture again');
  });

  test.each([
    ['a token nobody knows', 'unknown-line', () => new CameraDriver(driver.origin, newToken())],
    ['a line that has run out', 'line-over', () => new CameraDriver(driver.origin, token)],
  ])('with %s is turned away in words', async (_, reason, make) => {
    await driver.desire({ sources: [driver.source({ lines: [lineOf(token, Date.now() - 1)] })] });
    camera = make();
    camera.connect();
    await until(() => camera.refusal === reason, reason);
  });

  test('is let in when its line becomes known a moment after it came', async () => {
    const early = newToken();
    camera = new CameraDriver(driver.origin, early);
    camera.connect();
    camera.record();
    await until(() => camera.isDialled, 'the browser to have spoken');
    await driver.desire({ sources: [driver.source({ lines: [lineOf(early)] })] });
    await until(() => driver.report?.video, 'the picture');
    expect(camera.refusal).toBeUndefined();
  });

  test('is turned away while somebody else sends, and they notice nothing', async () => {
    const encoder = driver.encode();
    await driver.untilSegments(1);
    camera.connect();
    await until(() => camera.refusal === 'already-sending', 'the refusal');
    expect(driver.report?.protocol).toBe('rtmp');
    await encoder.stop();
  });

  test('is cut off when its line is withdrawn', async () => {
    camera.connect();
    camera.record();
    await driver.untilSegments(1);
    await driver.desire({ sources: [driver.source({ lines: [] })] });
    await until(() => camera.refusal === 'line-over', 'the word');
    expect(driver.node.figures().sources).toHaveLength(0);
  });

  test('that records no H.264 is told so', async () => {
    camera.connect();
    camera.record('-c:v libvpx -deadline realtime', 'video/webm;codecs=vp8,opus');
    await until(() => camera.refusal === 'container', 'the word');
  });
});

describe('measuring an upload', () => {
  test('counts what arrives, from which the steady rate comes out', async () => {
    const socket = new WebSocket(camera.address);
    const samples: UploadSample[] = [];
    await new Promise((resolve) => socket.once('open', resolve));
    socket.on('message', (data) => {
      const message = JSON.parse(String(data)) as ToCamera;
      if (message.type === 'received') samples.push(message);
    });
    socket.send(JSON.stringify({ type: 'measure', token }));
    // Half a megabit a second, whatever the timer does.
    const beganMs = performance.now();
    let sentBytes = 0;
    const sending = setInterval(() => {
      const dueBytes = Math.round((performance.now() - beganMs) * 62.5) - sentBytes;
      socket.send(Buffer.alloc(dueBytes));
      sentBytes += dueBytes;
    }, 20);
    const wholeMs = MEASURING.warmUpMs + 2 * MEASURING.windowMs;
    await until(() => (samples.at(-1)?.atMs ?? 0) - (samples[0]?.atMs ?? 0) > wholeMs, 'enough samples');
    clearInterval(sending);
    socket.terminate();
    expect(Math.abs(steadyUploadBps(samples)! / 500_000 - 1)).toBeLessThan(0.15);
  });

  test('is refused without a line', async () => {
    const socket = new WebSocket(camera.address);
    const told = new Promise<string>((resolve) => socket.once('message', (data) => resolve(String(data))));
    await new Promise((resolve) => socket.once('open', resolve));
    socket.send(JSON.stringify({ type: 'measure', token: newToken() }));
    expect(JSON.parse(await told)).toEqual({ type: 'refused', reason: 'unknown-line' });
  });
});
