import { readdir, readFile } from 'node:fs/promises';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { freePort } from '../../keeper/src/ports.js';
import { keepCalling } from '../../../tests/keep-calling.js';
import { NodeDriver, until } from './driver.js';

/** A listener that gets no processor for a while loses nothing meanwhile. */
const LATENCY_MS = 2000;
const PASSPHRASE = 'lamp-upon-the-water';
const PICTURE = ['-re', '-f', 'lavfi', '-i', 'testsrc2=size=320x180:rate=25'];
const SOUND = ['-re', '-f', 'lavfi', '-i', 'sine=frequency=440:sample_rate=48000'];
const CODED = '-c:v libx264 -preset ultrafast -g 50 -pix_fmt yuv420p -c:a aac -ac 2'.split(' ');

let driver: NodeDriver;
let firstPort: number;
beforeEach(async () => {
  firstPort = await freePort();
  driver = await NodeDriver.start({ srtFirstPort: firstPort });
  await driver.desire({
    sources: [driver.source({ srt: { slot: 0, passphrase: PASSPHRASE, latencyMs: LATENCY_MS } })],
    programmes: [driver.onAir()],
  });
});
afterEach(async () => {
  for (const hangUp of callers) hangUp();
  await driver.close();
});

/** Hangs up anybody who still calls. */
const callers = new Set<() => void>();

/** Calls over SRT until it is hung up. @returns what hangs it up */
function call(passphrase = PASSPHRASE, coded = CODED): () => void {
  const address = `srt://127.0.0.1:${firstPort}?passphrase=${passphrase}&pbkeylen=16&latency=${LATENCY_MS * 1000}`;
  const hangUp = keepCalling([...PICTURE, ...SOUND, ...coded, '-f', 'mpegts', address]);
  callers.add(hangUp);
  return hangUp;
}

describe('a caller over SRT', () => {
  test('is a source like any other, and its line is reported', async () => {
    const caller = call();
    await driver.untilSegments(2);
    expect(driver.report).toMatchObject({
      protocol: 'srt',
      remoteAddress: '127.0.0.1',
      video: { widthPx: 320, heightPx: 180 },
      audio: { sampleRateHz: 48_000 },
    });
    const transport = await until(() => driver.report?.transport, 'figures of the line');
    expect(transport.lostShare).toBe(0);
    caller();
    await until(() => driver.node.figures().sources.length === 0, 'the caller to be gone');
  });

  test('with a wrong passphrase is turned away, and disturbs nobody', async () => {
    const wrong = call('another-passphrase');
    // A listener is a process of its own, and so is the caller: on a busy machine both take their time.
    await until(async () => (await driver.refusals()).includes('wrong-passphrase'), 'the refusal');
    wrong();
    expect(driver.node.figures().sources).toHaveLength(0);
    const right = call();
    await driver.untilSegments(1);
    right();
  });

  test('is cut off when the passphrase is renewed, and heard with the new one', async () => {
    const old = call();
    await driver.untilSegments(1);
    const srt = { slot: 0, passphrase: 'another-passphrase', latencyMs: LATENCY_MS };
    await driver.desire({ sources: [driver.source({ srt })] });
    await until(() => driver.node.figures().sources.length === 0, 'the old one to be gone');
    const renewed = call('another-passphrase');
    await until(() => driver.report?.video, 'the new one');
    old();
    renewed();
  });

  test.each([
    ['video', '-c:v libx265 -preset ultrafast -x265-params log-level=none -c:a aac -ac 2'],
    ['video', '-c:v mpeg2video -c:a aac -ac 2'],
    ['audio', '-c:v libx264 -preset ultrafast -g 50 -pix_fmt yuv420p -c:a mp2'],
  ])('whose %s is of another kind is told so in the source’s history: %s', async (kind, coded) => {
    const caller = call(PASSPHRASE, coded.split(' '));
    await until(async () => (await driver.refusals()).includes(`${kind}-codec`), 'the refusal');
    caller();
  });

  test('has its passphrase on no command line', async () => {
    const ownLines = await Promise.all(
      (await readdir('/proc'))
        .filter((name) => /^\d+$/.test(name))
        .map((pid) => readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '')),
    );
    expect(ownLines.filter((line) => line.includes('srt-listener'))).not.toEqual([]);
    expect(ownLines.filter((line) => line.includes(PASSPHRASE))).toEqual([]);
  });
});
