import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { NodeDriver, until } from './driver.js';
import { WhipCaller } from './whip-driver.js';

let driver: NodeDriver;
let caller: WhipCaller;
beforeEach(async () => {
  driver = await NodeDriver.start();
  await driver.desire({ programmes: [driver.onAir()] });
  caller = new WhipCaller(driver.origin);
});
afterEach(async () => {
  await caller.close();
  await driver.close();
});

describe('an encoder that speaks WHIP', () => {
  test('is a source like any other: H.264 as it came, its sound as AAC; and ends by DELETE', async () => {
    expect(await caller.call(driver.key)).toBe(201);
    await driver.untilSegments(2);
    expect(driver.report).toMatchObject({
      protocol: 'whip',
      video: { widthPx: 320, heightPx: 180 },
      audio: { codec: 'mp4a.40.2', sampleRateHz: 48_000 },
    });
    expect(await caller.hangUp()).toBe(200);
    await until(() => driver.node.figures().sources.length === 0, 'the source to be free');
    expect(await caller.hangUp()).toBe(404);
  });

  test('is turned away with a wrong key, without one, and with another picture than H.264', async () => {
    expect(await caller.call('not-the-key')).toBe(401);
    expect((await fetch(`${driver.origin}/whip`, { method: 'POST', body: 'v=0' })).status).toBe(401);
    await caller.close();
    caller = new WhipCaller(driver.origin);
    expect(await caller.call(driver.key, { mimeType: 'video/VP8' })).toBe(406);
    expect(driver.node.figures().sources).toHaveLength(0);
  });

  test('waits while another sends by the same key, who notices nothing', async () => {
    const encoder = driver.encode();
    await driver.untilSegments(1);
    expect(await caller.call(driver.key)).toBe(409);
    expect(driver.report?.protocol).toBe('rtmp');
    await encoder.stop();
  });

  test('is told in the terms of HTTP what is wrong with how it asks', async () => {
    const ask = (method: string, headers: Record<string, string>, body?: string) =>
      fetch(`${driver.origin}/whip`, { method, headers, body: body ?? null });
    const authorization = `Bearer ${driver.key}`;
    expect((await ask('POST', {}, 'v=0')).headers.get('www-authenticate')).toMatch(/^Bearer/);
    expect((await ask('PUT', {})).headers.get('allow')).toBe('POST, OPTIONS');
    expect((await ask('POST', { authorization, 'content-type': 'text/plain' }, 'v=0')).status).toBe(415);
    const sdp = { authorization, 'content-type': 'application/sdp' };
    expect((await ask('POST', sdp, 'v=0\r\n')).status).toBe(400);
    expect(driver.node.figures().sources).toHaveLength(0);
  });

  test('that offers one bundle, its sound “bundle-only”, is heard', async () => {
    expect(await caller.call(driver.key, { bundleOnly: true })).toBe(201);
    await driver.untilSegments(1);
    expect(driver.report?.audio).toMatchObject({ codec: 'mp4a.40.2' });
  });

  test('that offers and never comes is given up', async () => {
    const headers = { authorization: `Bearer ${driver.key}`, 'content-type': 'application/sdp' };
    const body =
      'v=0\r\no=- 0 0 IN IP4 127.0.0.1\r\ns=-\r\nt=0 0\r\nm=audio 9 UDP/TLS/RTP/SAVPF 111\r\na=rtpmap:111 opus/48000/2\r\n';
    const answer = await fetch(`${driver.origin}/whip`, { method: 'POST', headers, body });
    expect([201, 400]).toContain(answer.status);
    await until(() => driver.node.figures().sources.length === 0, 'the source to be free');
  });
});
