import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DesiredSlate } from '@heliphon/core/control/desired-state';
import { decode, type EncoderOptions, NodeDriver, until } from './driver.js';
import { Receiver, stepsOf } from './receiver.js';

const SLATE: DesiredSlate = {
  awayAfterMs: 1500,
  stillIds: { coming: 'c'.repeat(64), back: 'b'.repeat(64) },
  sound: null,
};
/** Of AAC at 48 kHz: 1024 samples last 21.3 ms. */
const HALF_A_SOUND_MS = 10;
const run = promisify(execFile);
const DESTINATION = '0198a000-0000-7000-8000-000000000001';

let driver: NodeDriver;
let receiver: Receiver;
let address: string;
beforeEach(async () => {
  driver = await NodeDriver.start();
  receiver = new Receiver();
  address = await receiver.listen();
});
afterEach(async () => {
  await driver.close();
  receiver.close();
});

const destinations = () => [{ destinationId: DESTINATION, address, rendition: null }];
const have = async () => (await driver.told('viewers-have')).map(({ have: { kind } }) => kind);
const signal = () => driver.node.figures().programmes[0]!.signal;

test('before the first picture there is a slate, at 1280 x 720', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE, destinations: destinations() })] });
  await driver.untilSegments(1);
  expect(await have()).toEqual(['nothing', 'slate']);
  expect(signal().present).toBe(false);
  expect(await driver.playlist('main.m3u8')).toContain('RESOLUTION=1280x720');
  const place = await until(() => receiver.session, 'the place');
  await until(() => place.pictureMs.length > 30, 'a second of it');
});

test('an encoder is cut and comes back: one stream without an end for viewers, one session for the place', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE, destinations: destinations() })] });
  await until(() => receiver.sessions.length === 1, 'the slate at the place');
  const first = driver.encode({ bFrames: 2 });
  await until(async () => (await have()).includes('picture'), 'the picture');
  await until(() => receiver.sessions.length === 2, 'the place to start again for the size of the picture');
  await driver.untilSegments(4);
  await first.stop();
  await until(async () => (await have()).at(-1) === 'slate', 'the slate');
  expect(signal().present).toBe(false);
  const before = receiver.session!.pictureMs.length;
  await until(() => receiver.session!.pictureMs.length > before + 75, 'three seconds of it at the place');
  const second = driver.encode({ bFrames: 2 });
  await until(async () => (await have()).at(-1) === 'picture', 'the picture again');
  expect(signal().present).toBe(true);
  await until(() => receiver.session!.pictureMs.length > before + 200, 'the picture at the place');
  expect(receiver.sessions).toHaveLength(2);
  expect(receiver.session!.headers).toBe(1);
  await second.stop();
  await driver.desire({
    programmes: [driver.onAir({ slate: SLATE, command: { commandId: 'e', kind: 'end', atMs: Date.now() } })],
  });
  // The place could decode every frame, and its times only rose.
  const { pictureMs, soundMs } = receiver.session!;
  expect(await receiver.decoded()).toEqual({ frames: pictureMs.length, words: '' });
  expect(Math.min(...stepsOf(pictureMs))).toBeGreaterThan(0);
  expect(Math.min(...stepsOf(soundMs))).toBeGreaterThan(HALF_A_SOUND_MS);
  // But for the two switches it went on without a step.
  expect(stepsOf(pictureMs).filter((ms) => ms > 70).length).toBeLessThanOrEqual(2);
  // The replay leaves the slate out.
  const replay = await until(async () => {
    const response = await fetch(driver.address('replay.m3u8'));
    return response.ok && response.text();
  }, 'the replay');
  const decoded = await decode(driver.address('replay.m3u8'));
  expect(decoded.words).toBe('');
  const listed = [...replay.matchAll(/#EXTINF:([\d.]+)/g)].reduce((sum, match) => sum + Number(match[1]), 0);
  expect(Math.abs(decoded.frames / 25 - listed)).toBeLessThan(0.3);
  // Unless the house wants it: the same address, and a little longer.
  const { gapsMs, durationMs } = (await driver.told('recording-kept'))[0]!;
  expect(Math.abs(durationMs - listed * 1000)).toBeLessThan(100);
  await driver.desire({ recordingsWithGaps: [driver.programmeId] });
  const whole = await (await fetch(driver.address('replay.m3u8'))).text();
  const wholeMs =
    1000 * [...whole.matchAll(/#EXTINF:([\d.]+)/g)].reduce((sum, match) => sum + Number(match[1]), 0);
  expect(gapsMs).toBeGreaterThan(2500);
  expect(Math.abs(wholeMs - durationMs - gapsMs)).toBeLessThan(100);
  expect((await decode(driver.address('replay.m3u8'))).words).toBe('');
}, 60_000);

test('a sound of the house is heard with it, in the programme’s own kind, without another session at the place', async () => {
  const sound = { fileId: randomUUID(), sizeBytes: 1 };
  const folder = join(driver.folder, 'node', 'films');
  await mkdir(folder, { recursive: true });
  // As the server has it: AAC in MP4, of another rate than the programme's.
  const tone = '-f lavfi -i sine=frequency=880:sample_rate=48000:duration=3 -ac 2 -c:a aac';
  await run('ffmpeg', ['-v', 'error', ...tone.split(' '), join(folder, `${sound.fileId}.mp4`)]);
  await driver.restart();
  const slate = { ...SLATE, sound };
  await driver.desire({ programmes: [driver.onAir({ slate, destinations: destinations() })] });
  const encoder = driver.encode({ sounds: 'anullsrc=sample_rate=44100:channel_layout=stereo' });
  await until(async () => (await have()).includes('picture'), 'the picture');
  await driver.untilSegments(4);
  const { length } = receiver.sessions;
  await encoder.stop();
  await until(async () => (await have()).at(-1) === 'slate', 'the slate');
  const { keptMs } = driver.node.figures().programmes[0]!;
  await until(() => driver.node.figures().programmes[0]!.keptMs > keptMs + 7000, 'seven seconds of it');
  expect(receiver.sessions).toHaveLength(length);
  expect(receiver.session!.headers).toBe(1);
  await driver.desire({
    recordingsWithGaps: [driver.programmeId],
    programmes: [driver.onAir({ slate, command: { commandId: 'e', kind: 'end', atMs: Date.now() } })],
  });
  const replay = driver.address('replay.m3u8');
  await until(async () => (await fetch(replay)).ok, 'the replay');
  expect((await decode(replay)).words).toBe('');
  // The encoder was silent: whatever is loud is the slate's, and longer than the file is once.
  const silence = ['-af', 'silencedetect=noise=-40dB:d=0.5', '-vn', '-f', 'null', '-'];
  const { stderr } = await run('ffmpeg', ['-allowed_extensions', 'ALL', '-i', replay, ...silence]);
  const silentS = [...stderr.matchAll(/silence_duration: ([\d.]+)/g)].map(([, seconds]) => Number(seconds));
  const [, minutes, seconds] = /time=00:(\d+):([\d.]+)/.exec(stderr.slice(stderr.lastIndexOf('time=')))!;
  const loudS = Number(minutes) * 60 + Number(seconds) - silentS.reduce((sum, one) => sum + one, 0);
  expect(loudS).toBeGreaterThan(5);
}, 60_000);

test('an encoder that stands still on an open line: the slate after the limit, and nothing saved up afterwards', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE })] });
  const encoder = driver.encode();
  await until(async () => (await have()).includes('picture'), 'the picture');
  await driver.untilSegments(3);
  encoder.stall();
  await until(async () => (await have()).at(-1) === 'slate', 'the slate');
  const kept = driver.node.figures().programmes[0]!.keptMs;
  await until(() => driver.node.figures().programmes[0]!.keptMs > kept + 3000, 'three seconds of it');
  encoder.goOn();
  await until(async () => (await have()).at(-1) === 'picture', 'the picture again');
  const slate = (await driver.told('viewers-have')).findLast(({ have: { kind } }) => kind === 'slate');
  const gone = (await driver.told('viewers-have')).findLast(({ have: { kind } }) => kind === 'nothing')!;
  expect(slate!.atMs - gone.atMs).toBeGreaterThan(SLATE.awayAfterMs - 200);
  expect(slate!.atMs - gone.atMs).toBeLessThan(SLATE.awayAfterMs + 1500);
  // The programme is where the clock is: what came in a rush has not put it ahead.
  const text = await driver.playlist();
  const dated = text.slice(text.lastIndexOf('#EXT-X-PROGRAM-DATE-TIME:'));
  const beganMs = Date.parse(/TIME:(\S+)/.exec(dated)![1]!);
  const seconds = [...dated.matchAll(/#EXT(?:INF|-X-PART):(?:DURATION=)?([\d.]+)/g)];
  const whole = dated.includes('#EXTINF') ? seconds.filter(([line]) => line.startsWith('#EXTINF')) : [];
  const lastedMs = 1000 * whole.reduce((sum, [, length]) => sum + Number(length), 0);
  expect(beganMs + lastedMs).toBeLessThan(Date.now() + 600);
}, 60_000);

test('an encoder that comes back at another size: the slate until then, and the place starts again', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE, destinations: destinations() })] });
  await until(() => receiver.sessions.length === 1, 'the slate at the place');
  const first = driver.encode();
  await until(() => receiver.sessions.length === 2, 'the picture at the place');
  await driver.untilSegments(3);
  await first.stop();
  await until(async () => (await have()).at(-1) === 'slate', 'the slate');
  driver.encode({ size: '640x480', rateFps: 30 });
  await until(() => receiver.sessions.length === 3, 'the other size at the place');
  await until(() => receiver.session!.pictureMs.length > 60, 'two seconds of it');
  expect((await receiver.decoded()).words).toBe('');
  // A machine that is busy elsewhere may be late with the slate.
  const had = (await have()).slice(1).filter((kind) => kind !== 'nothing');
  expect(had).toEqual(['slate', 'picture', 'slate', 'picture']);
}, 60_000);

test.each<[string, EncoderOptions[]]>([
  ['begins to send 120 frames a second', [{}, { rateFps: 120 }]],
  ['goes from wide to narrow and back', [{}, { size: '240x180' }, {}]],
  ['sends two kinds of sound in turn', [{}, { sounds: 'sine=sample_rate=48000' }, {}]],
])(
  'an encoder that %s: all of it can be decoded, slates between, by viewers and at the place',
  async (_, turns) => {
    const programme = driver.onAir({ slate: SLATE, destinations: destinations() });
    await driver.desire({ programmes: [programme], recordingsWithGaps: [driver.programmeId] });
    const received = () => receiver.sessions.reduce((sum, { pictureMs }) => sum + pictureMs.length, 0);
    for (const turn of turns) {
      const encoder = driver.encode(turn);
      await until(async () => (await have()).at(-1) === 'picture', 'the picture');
      const before = received();
      await until(() => received() > before + 50, 'two seconds of it at the place');
      await encoder.stop();
      await until(async () => (await have()).at(-1) === 'slate', 'the slate');
    }
    await driver.desire({
      programmes: [{ ...programme, command: { commandId: 'e', kind: 'end', atMs: Date.now() } }],
    });
    await until(async () => (await fetch(driver.address('replay.m3u8'))).ok, 'the replay');
    // Pictures by their own times: the rate changes on the way.
    const times = ['-fps_mode', 'passthrough', '-enc_time_base:v', '1/1000'];
    const replay = ['-v', 'error', '-allowed_extensions', 'ALL', '-i', driver.address('replay.m3u8')];
    expect((await run('ffmpeg', [...replay, '-map', '0', ...times, '-f', 'null', '-'])).stderr).toBe('');
    for (const session of receiver.sessions) {
      expect((await receiver.decoded(session)).words).toBe('');
      expect(Math.min(...stepsOf(session.soundMs))).toBeGreaterThan(HALF_A_SOUND_MS);
    }
  },
  60_000,
);

test('a node that was killed shows the slate at once, of the size it had learnt, until the encoder is back', async () => {
  await driver.desire({ programmes: [driver.onAir({ slate: SLATE })] });
  const encoder = driver.encode();
  await until(async () => (await have()).includes('picture'), 'the picture');
  await driver.untilSegments(3);
  const { keptMs } = driver.node.figures().programmes[0]!;
  await encoder.stop();
  await driver.restart();
  await until(() => driver.node.figures().programmes[0]!.keptMs > keptMs + 3000, 'the slate');
  expect((await have()).at(-1)).toBe('slate');
  expect(await driver.playlist('main.m3u8')).toContain('RESOLUTION=320x180');
  // What it tells after its return does not begin before what it told last.
  const toldAtMs = (await driver.told('viewers-have')).map(({ atMs }) => atMs);
  expect(toldAtMs).toEqual([...toldAtMs].sort((a, b) => a - b));
}, 60_000);
