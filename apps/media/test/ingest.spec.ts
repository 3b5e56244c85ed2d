import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { NodeDriver, until } from './driver.js';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

const sources = async () => (await driver.node.figures()).sources;

test('an encoder with its key is let in, and what it sends is reported', async () => {
  await driver.desire({});
  const encoder = driver.encode({ rateFps: 25 });
  const report = await until(async () => {
    const [source] = await sources();
    const video = source?.report.video;
    return video?.keyframeIntervalMs && video.frameRateFps > 22 ? source!.report : null;
  }, 'a report of all its frames');
  expect(report.video).toMatchObject({ widthPx: 320, heightPx: 180, keyframeIntervalMs: 2000 });
  expect(report.video!.frameRateFps).toBeLessThan(28);
  expect(report.audio).toMatchObject({ sampleRateHz: 44_100, channels: 2 });
  expect(report.encoder).toContain('Lavf');
  await encoder.stop();
  await until(async () => (await sources()).length === 0, 'the source to be gone');
});

test('a JPEG is there after the first keyframe', async () => {
  await driver.desire({});
  driver.encode();
  const { grantFor } = await import('./driver.js');
  const address = `${driver.origin}/s/${driver.sourceId}/${grantFor(driver.sourceId, 'source')}/picture.jpg`;
  const picture = await until(async () => {
    const response = await fetch(address);
    return response.ok && Buffer.from(await response.arrayBuffer());
  }, 'a picture');
  expect(picture.subarray(0, 2).toString('hex')).toBe('ffd8');
});

test('a wrong key is refused in our own sentence, which the encoder shows', async () => {
  await driver.desire({});
  const words = await driver.encode({
    address: `rtmp://127.0.0.1:${driver.node.rtmpPort}/in/wrong`,
    seconds: 2,
  }).ended;
  expect(words).toContain('Heliphon does not know this key');
});

test('a source with name and password takes both, by the encoders’ own challenge', async () => {
  await driver.desire({ sources: [driver.withPassword('low-tide')] });
  const at = (who: string) => `rtmp://${who}127.0.0.1:${driver.node.rtmpPort}/in/tower-box/${driver.key}`;
  const wrong = await driver.encode({ address: at('tower-box:high-tide@'), seconds: 2 }).ended;
  expect(wrong).toMatch(/incorrect|authfailed|Authentication failed/i);
  const without = await driver.encode({ seconds: 2 }).ended;
  expect(without).toContain('wants its name and password');
  const right = driver.encode({ address: at('tower-box:low-tide@') });
  await until(async () => (await sources())[0]?.report.video, 'the picture');
  await right.stop();
});

test('of two encoders with one key the one that is sending keeps it; silent, it gives way', async () => {
  await driver.desire({});
  const first = driver.encode();
  await until(async () => (await sources())[0]?.report.video, 'the first');
  const second = await driver.encode({ seconds: 2 }).ended;
  expect(second).toContain('Another encoder is already sending');
  expect(await sources()).toHaveLength(1);
  await first.stop();
});

test('renewing the key cuts off the encoder that has the old one', async () => {
  await driver.desire({});
  const encoder = driver.encode();
  await until(async () => (await sources())[0]?.report.video, 'the picture');
  await driver.desire({ sources: [driver.source({ keySha256Hex: 'ab'.repeat(32) })] });
  await encoder.ended;
  expect(await sources()).toHaveLength(0);
});

test.each([
  ['a picture that is not H.264', ['-c:v', 'flv1', '-an'], 'takes H.264 pictures only, not Sorenson H.263'],
  [
    'sound that is not AAC',
    ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-c:a', 'mp3', '-ar', '44100'],
    'takes AAC sound only, not MP3',
  ],
])('%s is refused in words', async (_name, codec, sentence) => {
  await driver.desire({});
  expect(await driver.encode({ codec, seconds: 4 }).ended).toContain(sentence);
});
