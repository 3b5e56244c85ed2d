import { execFileSync } from 'node:child_process';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { DesiredProgramme } from '@heliphon/core/control/desired-state';
import type { RenditionChoice } from '@heliphon/core/ladder/renditions';
import { Clock } from '../src/clock.js';
import { LadderBudget } from '../src/renditions/ladder-budget.js';
import { Shedding } from '../src/renditions/shedding.js';
import { decode, NodeDriver, until } from './driver.js';
import { Receiver } from './receiver.js';

let driver: NodeDriver;
beforeEach(async () => {
  driver = await NodeDriver.start();
});
afterEach(() => driver.close());

const TWO_SIZES: RenditionChoice = [
  { heightPx: 240, videoBitrateBps: 300_000 },
  { heightPx: 180, videoBitrateBps: null },
];
const read = async (file: string): Promise<string> => (await fetch(driver.address(file))).text();
const statusOf = async (file: string): Promise<number> => (await fetch(driver.address(file))).status;
/** Sequence numbers and lengths of the segments that a playlist lists, with what stands before each. */
function segmentsOf(playlist: string): Map<string, string> {
  const listed = playlist.matchAll(
    /(#EXT-X-DISCONTINUITY\n)?(?:#EXT-X-(?!DISC).*\n)*#EXTINF:([\d.]+),\n(seg-\d+)/g,
  );
  return new Map(
    [...listed].map(([, breaks, seconds, name]) => [name!, `${seconds} ${breaks ? 'breaks' : ''}`]),
  );
}
const untilListed = async (file: string, segment: string): Promise<string> =>
  until(async () => {
    const text = await read(file);
    return text.includes(`${segment}.m4s`) && text;
  }, `${segment} in ${file}`);
const sendsInTwoSizes = async (): Promise<void> => {
  await driver.desire({ programmes: [driver.onAir({ renditions: TWO_SIZES })] });
};
/** The ffmpeg that makes the sizes. */
const encoderIds = (): string[] => {
  try {
    return execFileSync('pgrep', ['-P', String(process.pid), '-f', 'split='])
      .toString()
      .trim()
      .split('\n');
  } catch {
    return [];
  }
};
/** How many pictures can be decoded of a segment of the first run. */
async function picturesIn(folder: string, segment: string): Promise<number> {
  const bytes = async (file: string): Promise<Buffer> =>
    Buffer.from(await (await fetch(driver.address(`${folder}/${file}`))).arrayBuffer());
  const input = Buffer.concat([await bytes('init-0.mp4'), await bytes(`${segment}.m4s`)]);
  const count = '-v error -count_frames -select_streams v -show_entries stream=nb_read_frames -of csv=p=0 -';
  return Number(execFileSync('ffprobe', count.split(' '), { input }));
}
const sameWhereBothAre = (one: Map<string, string>, other: Map<string, string>): number => {
  const both = [...one.keys()].filter((name) => other.has(name));
  // The first of a list is behind no other.
  for (const name of both.slice(1)) expect([name, one.get(name)]).toEqual([name, other.get(name)]);
  return both.length;
};

describe('smaller pictures', () => {
  test('are announced with what they are, cut where the original is, and decode clean', async () => {
    await sendsInTwoSizes();
    driver.encode({ size: '640x360', bFrames: 2 });
    const main = await until(async () => {
      const response = await fetch(driver.address('main.m3u8'));
      return response.ok && response.text();
    }, 'the sizes');
    expect(main.match(/RESOLUTION=\d+x\d+,FRAME-RATE=25\.000|^\S*live\.m3u8/gm)).toEqual([
      'RESOLUTION=640x360,FRAME-RATE=25.000',
      'live.m3u8',
      'RESOLUTION=426x240,FRAME-RATE=25.000',
      'r/240p/live.m3u8',
      'RESOLUTION=320x180,FRAME-RATE=25.000',
      'r/180p/live.m3u8',
      'sound/live.m3u8',
    ]);
    const [whole, small] = await Promise.all([
      untilListed('live.m3u8', 'seg-3'),
      untilListed('r/180p/live.m3u8', 'seg-3'),
    ]);
    expect(sameWhereBothAre(segmentsOf(whole), segmentsOf(small))).toBeGreaterThanOrEqual(3);
    expect(small).toMatch(/RENDITION-REPORT:URI="\.\.\/\.\.\/live\.m3u8"/);
    expect(small.match(/#EXT-X-PART:.*seg|INDEPENDENT=YES/g)!.length).toBeGreaterThan(0);
    for (const name of segmentsOf(small).keys()) expect(await picturesIn('r/180p', name)).toBe(50);
  });

  test('go through a gap of the encoder as the original does, and can be replayed', async () => {
    await sendsInTwoSizes();
    const first = driver.encode({ size: '640x360' });
    await untilListed('r/240p/live.m3u8', 'seg-1');
    await first.stop();
    await until(() => !driver.node.figures().programmes[0]!.signal.present, 'the gap');
    driver.encode({ size: '640x360' });
    const breaks = (text: string): boolean => /#EXT-X-DISCONTINUITY\n[^]*#EXTINF/.test(text);
    await until(async () => breaks(await read('r/240p/live.m3u8')), 'the other side of the gap');
    expect(
      sameWhereBothAre(segmentsOf(await read('live.m3u8')), segmentsOf(await read('r/240p/live.m3u8'))),
    ).toBeGreaterThan(2);
    await ends();
    const replay = await until(async () => {
      const response = await fetch(driver.address('r/240p/replay.m3u8'));
      return response.ok && response.text();
    }, 'the replay');
    const listed = [...replay.matchAll(/#EXTINF:([\d.]+)/g)].reduce(
      (sum, match) => sum + Number(match[1]),
      0,
    );
    const decoded = await decode(driver.address('r/240p/replay.m3u8'));
    expect(decoded.words).toBe('');
    expect(Math.abs(decoded.frames / 25 - listed)).toBeLessThan(0.3);
    expect(await read('main.m3u8')).toContain('r/240p/replay.m3u8');
  });

  test('lose nothing when their encoder dies, and the original hears nothing of it', async () => {
    await sendsInTwoSizes();
    driver.encode({ size: '640x360' });
    await untilListed('r/240p/live.m3u8', 'seg-1');
    const [id] = encoderIds();
    process.kill(Number(id), 'SIGKILL');
    await until(() => encoderIds().some((other) => other !== id), 'another encoder');
    const listed = segmentsOf(await untilListed('r/240p/live.m3u8', 'seg-4'));
    expect([...listed.keys()]).toEqual([...segmentsOf(await read('live.m3u8')).keys()].slice(0, listed.size));
    for (const name of listed.keys()) expect(await picturesIn('r/240p', name)).toBe(50);
  });

  test('come and go while the programme is on air; a size that is not made is not found', async () => {
    await driver.desire({ programmes: [driver.onAir()] });
    driver.encode({ size: '640x360' });
    await untilListed('live.m3u8', 'seg-0');
    expect(await statusOf('r/240p/live.m3u8')).toBe(404);
    const [programme] = driver.state.programmes;
    await driver.desire({ programmes: [{ ...programme!, renditions: TWO_SIZES }] });
    const late = await until(async () => {
      const text = await read('r/240p/live.m3u8');
      return /#EXTINF/.test(text) && text;
    }, 'a size that was added');
    const [, sequence] = /MEDIA-SEQUENCE:(\d+)/.exec(late)!;
    expect(late).toContain(`seg-${sequence}.m4s`);
    await driver.desire({ programmes: [{ ...programme!, renditions: 'off' }] });
    await until(async () => (await statusOf('r/240p/live.m3u8')) === 404, 'the size to go');
    expect(await read('main.m3u8')).not.toContain('r/');
    expect(await statusOf('live.m3u8')).toBe(200);
    expect(await statusOf('r/9999p/live.m3u8')).toBe(404);
    expect(encoderIds()).toEqual([]);
  });
});

const ends = async (over: Partial<DesiredProgramme> = {}): Promise<void> => {
  const [programme] = driver.state.programmes;
  const command = { commandId: 'end', kind: 'end' as const, atMs: Date.now() };
  await driver.desire({ programmes: [{ ...programme!, ...over, command }] });
  await until(async () => (await statusOf('replay.m3u8')) === 200, 'the end');
};

describe('a place', () => {
  const PLACE = '0198a000-0000-7000-8000-000000000001';
  const place = new Receiver();
  afterAll(() => place.close());
  const gets = () => driver.node.figures().programmes[0]?.destinations[0]?.rendition;
  const choose = (rendition: string | null, over: Partial<DesiredProgramme> = {}): Promise<void> =>
    driver.desire({
      programmes: [
        {
          ...driver.state.programmes[0]!,
          ...over,
          destinations: [{ destinationId: PLACE, address, rendition }],
        },
      ],
    });
  let address = '';

  test('gets the size that is chosen for it, one session through a gap, and the original once that is all there is', async () => {
    address = await place.listen();
    await sendsInTwoSizes();
    const first = driver.encode({ size: '640x360' });
    await untilListed('r/240p/live.m3u8', 'seg-0');
    await choose('240p');
    await until(() => place.sessions.length === 1 && place.session!.pictureMs.length > 40, 'its pictures');
    expect(gets()).toBe('240p');
    await first.stop();
    await until(() => !driver.node.figures().programmes[0]!.signal.present, 'the gap');
    const before = place.session!.pictureMs.length;
    driver.encode({ size: '640x360' });
    await until(() => place.session!.pictureMs.length > before + 50, 'the other side of the gap');
    expect(place.sessions).toHaveLength(1);
    const { words, frames } = await place.decoded();
    expect(words).toBe('');
    expect(frames).toBeGreaterThan(90);
    // What is not made is replaced by the next smaller size, and then by the original.
    await choose('240p', { renditions: [{ heightPx: 180, videoBitrateBps: null }] });
    await until(() => gets() === '180p' && place.sessions.length === 2, 'the next smaller');
    await choose('240p', { renditions: 'off' });
    await until(() => gets() === null && place.sessions.length === 3, 'the original');
  });
});

describe('the recording of smaller pictures', () => {
  test('is let go at the end where that is wished', async () => {
    await sendsInTwoSizes();
    driver.encode({ size: '640x360' });
    await untilListed('r/240p/live.m3u8', 'seg-1');
    await ends({ keepsRenditions: false });
    await until(async () => (await statusOf('r/240p/replay.m3u8')) === 404, 'them to go');
    expect(await read('main.m3u8')).not.toContain('r/');
  });

  test('is whole, though the node stops while the encoder says its last words', async () => {
    await sendsInTwoSizes();
    driver.encode({ size: '640x360' });
    await untilListed('r/180p/live.m3u8', 'seg-1');
    await ends();
    await driver.restart();
    const replay = segmentsOf(await read('r/180p/replay.m3u8'));
    expect([...replay]).toEqual([...segmentsOf(await read('replay.m3u8'))]);
  });

  test('is the first to go where room grows short, and the original stays', async () => {
    await sendsInTwoSizes();
    driver.encode({ size: '640x360' });
    await untilListed('r/240p/live.m3u8', 'seg-1');
    await ends();
    await until(async () => (await statusOf('r/240p/replay.m3u8')) === 200, 'the small replay');
    const { diskFreeBytes } = driver.node.figures();
    await driver.restart({ diskReserveBytes: diskFreeBytes / 2 });
    await until(() => driver.node.figures().disk === 'low', 'room to be short');
    await until(async () => (await statusOf('r/240p/replay.m3u8')) === 404, 'them to go');
    expect(await statusOf('replay.m3u8')).toBe(200);
    expect(await readdir(join(driver.folder, 'media', driver.houseId, driver.programmeId, 'r'))).toEqual([]);
  });
});

/** A clock that is moved by hand. */
class HandClock extends Clock {
  ms = 0;
  override monotonicMs(): number {
    return this.ms;
  }
}

describe('what the processor carries', () => {
  test('is shared out, and corrected by what is seen to be used', () => {
    const clock = new HandClock();
    const budget = new LadderBudget(clock, 4);
    const [one, other] = [{}, {}];
    expect(budget.roomFor(one)).toBe(3);
    budget.take(one, 1);
    expect([budget.roomFor(one), budget.roomFor(other)]).toEqual([3, 2]);
    // It takes twice what was expected: the first measure, in which everything starts, does not count.
    for (const seconds of [15, 35, 55, 75]) {
      clock.ms += 10_000;
      budget.measure(one, () => seconds);
    }
    expect(budget.roomFor(other)).toBeCloseTo(1 / 1.875, 2);
    expect(budget.mostCores).toBeLessThan(2);
    budget.release(one);
    expect(budget.roomFor(other)).toBe(budget.mostCores);
  });

  test('decides when a size is given up, and for how long', () => {
    const clock = new HandClock();
    const shedding = new Shedding(clock);
    expect(shedding.isBehind({ lagMs: 9000, upMs: 2000 })).toBe(false);
    expect(shedding.isBehind({ lagMs: 2000, upMs: 60_000 })).toBe(false);
    expect(shedding.isBehind({ lagMs: 3500, upMs: 60_000 })).toBe(true);
    for (const pauseMs of [60_000, 120_000, 240_000]) {
      shedding.add('720p');
      expect([shedding.has('720p'), shedding.names]).toEqual([true, ['720p']]);
      clock.ms += pauseMs - 1;
      expect(shedding.isOver()).toBe(false);
      clock.ms += 1;
      expect([shedding.isOver(), shedding.isOver(), shedding.has('720p')]).toEqual([true, false, false]);
    }
  });
});
