import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { decode, grantFor, NodeDriver, until, hintedPart } from './driver.js';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

const read = async (address: string): Promise<string> => (await fetch(address)).text();
const programme = async () => (await driver.node.figures()).programmes[0]!;
const command = (kind: 'open-doors' | 'go-on-air' | 'end') =>
  driver.desire({
    programmes: [{ ...driver.state.programmes[0]!, command: { commandId: kind, kind, atMs: Date.now() } }],
  });
/** A programme that waits for hands. */
const later = () => {
  const hourMs = 3_600_000;
  const nowMs = Date.now();
  const plan = {
    doorsAtMs: nowMs + hourMs,
    airAtMs: nowMs + 2 * hourMs,
    stopAtMs: nowMs + 3 * hourMs,
    hardStopAtMs: nowMs + 4 * hourMs,
    deadAirMs: hourMs,
  };
  return driver.onAir({ plan });
};

test('before air only the desk sees the programme; the public starts at the segment of air', async () => {
  await driver.desire({ programmes: [later()] });
  driver.encode();
  await command('open-doors');
  await until(
    async () => (await read(driver.address('live.m3u8', 'desk'))).includes('seg-1.m4s'),
    'the desk’s picture',
  );
  expect((await fetch(driver.address('live.m3u8'))).status).toBe(403);
  await command('go-on-air');
  const shown = await until(async () => {
    const text = await read(driver.address('live.m3u8'));
    return text.includes('#EXTINF') && text;
  }, 'the public’s picture');
  expect(shown).not.toContain('seg-0.m4s');
  expect((await fetch(driver.address('seg-0.m4s'))).status).toBe(403);
  expect((await fetch(driver.address('seg-0.m4s', 'desk'))).status).toBe(200);
});

test('a blocking reload answers when the part is there, and 400 when it asks too far ahead', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  driver.encode();
  const text = await until(async () => {
    const now = await read(driver.address('live.m3u8'));
    return now.includes('PRELOAD-HINT') && now.includes('#EXTINF') && now;
  }, 'parts');
  const next = hintedPart(text);
  const sequence = Number(/MEDIA-SEQUENCE:(\d+)/.exec(text)![1]) + text.match(/#EXTINF/g)!.length;
  const held = await read(driver.address(`live.m3u8?_HLS_msn=${sequence + 1}&_HLS_part=0`));
  expect(held).toContain(`seg-${sequence}.m4s`);
  const hinted = await fetch(driver.address(`part-${next}.m4s`));
  expect(hinted.status).toBe(200);
  expect((await fetch(driver.address(`live.m3u8?_HLS_msn=${sequence + 50}`))).status).toBe(400);
  expect((await fetch(driver.address('live.m3u8?_HLS_msn=soon'))).status).toBe(400);
});

test('an encoder that goes and comes back: one programme, a discontinuity, and a replay that decodes whole', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  const first = driver.encode({ bFrames: 2 });
  await until(async () => (await read(driver.address('live.m3u8'))).includes('seg-1.m4s'), 'the first run');
  await first.stop();
  const stoppedAtMs = Date.now();
  await until(async () => !(await programme()).signal.present, 'the signal to go');
  const standing = await read(driver.address('live.m3u8'));
  expect(standing).not.toContain('PRELOAD-HINT');
  expect(standing).not.toContain('ENDLIST');
  const second = driver.encode({ bFrames: 2 });
  await until(
    async () => /DISCONTINUITY\n[^]*#EXTINF/.test(await read(driver.address('live.m3u8'))),
    'the second run',
  );
  await second.stop();
  const { keptMs } = await until(async () => {
    const now = await programme();
    return !now.signal.present && now;
  }, 'the second end');
  // Second by second: a picture that stands is nothing from its last frame on.
  const told = await until(async () => {
    const all = await driver.told('viewers-have');
    return (
      all.at(-1)!.have.kind === 'nothing' && all.slice(all.findIndex(({ have }) => have.kind === 'picture'))
    );
  }, 'what viewers had');
  expect(told.slice(0, 4).map(({ have }) => have.kind)).toEqual(['picture', 'nothing', 'picture', 'nothing']);
  expect(told[0]!.have).toMatchObject({ sourceId: driver.sourceId });
  // The node's clock and ours may be some milliseconds apart.
  expect(told[1]!.atMs).toBeLessThan(stoppedAtMs + 500);
  expect(told[1]!.atMs).toBeGreaterThan(stoppedAtMs - 3000);
  await command('end');
  const replay = await until(async () => {
    const response = await fetch(driver.address('replay.m3u8'));
    return response.ok && response.text();
  }, 'the replay');
  const listed = [...replay.matchAll(/#EXTINF:([\d.]+)/g)].reduce((sum, match) => sum + Number(match[1]), 0);
  expect(Math.abs(listed * 1000 - keptMs)).toBeLessThan(2100);
  const decoded = await decode(driver.address('replay.m3u8'));
  expect(decoded.words).toBe('');
  expect(Math.abs(decoded.frames / 25 - listed)).toBeLessThan(0.3);
});

test('a picture without sound plays, and 44.1 kHz with B-frames decodes clean', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  const encoder = driver.encode({ sound: false, seconds: 6, bFrames: 2 });
  await encoder.ended;
  await command('end');
  const silent = await decode(driver.address('replay.m3u8'));
  expect(silent.words).toBe('');
  expect(silent.frames).toBeGreaterThan(100);
});

test('forged and stale grants are refused before anything is looked up', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  const at = (grant: string) => fetch(`${driver.origin}/p/${driver.programmeId}/${grant}/live.m3u8`);
  const good = grantFor(driver.programmeId, 'public');
  expect((await at(good)).status).toBe(200);
  expect((await at(`${good.slice(0, -1)}${good.endsWith('A') ? 'B' : 'A'}`)).status).toBe(403);
  expect((await at(grantFor(driver.programmeId, 'public', Date.now() - 1000))).status).toBe(403);
  const nowhere = driver.houseId;
  expect((await fetch(`${driver.origin}/p/${nowhere}/${grantFor(nowhere, 'public')}/live.m3u8`)).status).toBe(
    403,
  );
  await driver.desire({ programmes: [driver.onAir({ grantsValidFromMs: { public: Date.now(), desk: 0 } })] });
  expect((await at(good)).status).toBe(403);
  expect(await (await at(good)).text()).toContain('Open the page again');
});

test('viewers are counted by the value they send', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  for (const viewer of ['viewer-one-1', 'viewer-two-2'])
    await fetch(driver.address(`beat?v=${viewer}`), { method: 'POST' });
  await read(driver.address('live.m3u8?v=viewer-one-1'));
  expect((await programme()).viewers).toBe(2);
  await fetch(`${driver.address('live.m3u8')}?v=cccccccccccc&w=parish.example`);
  expect((await programme()).viewersAt).toEqual([
    { site: null, viewers: 2 },
    { site: 'parish.example', viewers: 1 },
  ]);
});

test('after a restart of the node the same programme goes on, with numbers that only rise', async () => {
  await driver.desire({ programmes: [driver.onAir()] });
  const first = driver.encode();
  await until(async () => (await read(driver.address('live.m3u8'))).includes('seg-1.m4s'), 'the first run');
  await first.stop();
  await driver.restart();
  driver.encode();
  const text = await until(async () => {
    const now = await read(driver.address('live.m3u8'));
    return /DISCONTINUITY\n[^]*#EXTINF/.test(now) && now;
  }, 'the second run');
  const numbers = [...text.matchAll(/seg-(\d+)/g)].map((match) => Number(match[1]));
  expect(numbers).toEqual(numbers.map((_, index) => numbers[0]! + index));
});

test('with the server away the node ends a programme by dead air on its own', async () => {
  const nowMs = Date.now();
  const plan = {
    doorsAtMs: nowMs - 1000,
    airAtMs: nowMs,
    stopAtMs: nowMs + 60_000,
    hardStopAtMs: nowMs + 90_000,
    deadAirMs: 2000,
  };
  await driver.desire({ programmes: [driver.onAir({ plan })] });
  await until(async () => (await programme()).state === 'kept', 'the end');
  expect((await (await fetch(driver.address('replay.m3u8'))).text()).match(/#EXTINF/g)).toBeNull();
});
