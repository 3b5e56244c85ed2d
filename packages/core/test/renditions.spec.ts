import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { choiceIn, FIRST_CHOSEN, isRenditionSetting, withSize } from '../src/ladder/rendition-setting.js';
import { isSameChoice, ladderCores, type LadderSource, planLadder } from '../src/ladder/renditions.js';
import { pictureAt } from '../src/media/frame.js';
import { VIDEO_TIMESCALE, type VideoTrack } from '../src/media/track.js';
import { FollowingPackager, PictureTimes } from '../src/packaging/following-packager.js';
import type { PackagerOutput, Part } from '../src/packaging/packager.js';
import { findBoxes, readMovieFragment } from '../src/packaging/read-boxes.js';
import { DATA, PackagingRoad, TRACKS } from './packaging-road.js';

const MANY_CORES = 64;
const HD: LadderSource = { widthPx: 1280, heightPx: 720, frameRateFps: 30, videoBitrateBps: 2_500_000 };
const FULL_HD: LadderSource = { ...HD, widthPx: 1920, heightPx: 1080, videoBitrateBps: 4_500_000 };
const namesOf = (...parameters: Parameters<typeof planLadder>): string[] =>
  planLadder(...parameters).renditions.map(({ name }) => name);

describe('a ladder of smaller pictures', () => {
  test('has what is really smaller than its source, and no more than three steps by itself', () => {
    expect(namesOf('auto', FULL_HD, MANY_CORES)).toEqual(['720p', '480p', '360p']);
    expect(namesOf('auto', HD, MANY_CORES)).toEqual(['480p', '360p']);
    expect(namesOf('auto', { ...HD, widthPx: 640, heightPx: 360 }, MANY_CORES)).toEqual([]);
    expect(namesOf('off', FULL_HD, MANY_CORES)).toEqual([]);
  });

  test('keeps the shape of the picture, in whole pairs of rows and columns', () => {
    const [first] = planLadder('auto', HD, MANY_CORES).renditions;
    expect(first).toMatchObject({ widthPx: 854, heightPx: 480 });
    const tall = planLadder('auto', { ...HD, widthPx: 1080, heightPx: 1920 }, MANY_CORES).renditions[0];
    expect(tall).toMatchObject({ name: '1080p', widthPx: 608, heightPx: 1080 });
  });

  test('is never heavier than makes sense beside its source', () => {
    const thin = { ...HD, videoBitrateBps: 600_000 };
    for (const { videoBitrateBps } of planLadder('auto', thin, MANY_CORES).renditions)
      expect(videoBitrateBps).toBeLessThanOrEqual(420_000);
  });

  test('says of what was chosen why it is not made', () => {
    const wishes = choiceIn('720p,480p');
    expect(planLadder(wishes, HD, MANY_CORES)).toMatchObject({
      renditions: [{ name: '480p' }],
      leftOut: [{ heightPx: 720, why: 'not-smaller' }],
    });
  });

  test('never takes more of the processor than there is: the largest go first', () => {
    const { renditions, leftOut } = planLadder('auto', FULL_HD, 0.9);
    expect(renditions.map(({ name }) => name)).toEqual(['480p', '360p']);
    expect(leftOut).toEqual([{ heightPx: 720, why: 'no-room' }]);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 4, noNaN: true }), (freeCores) => {
        expect(ladderCores(planLadder('auto', FULL_HD, freeCores).renditions, FULL_HD)).toBeLessThanOrEqual(
          freeCores,
        );
      }),
    );
  });

  test('costs what was measured: 480 and 360 lines of 720p30 about half a core', () => {
    const { renditions } = planLadder('auto', HD, MANY_CORES);
    expect(ladderCores(renditions, HD)).toBeCloseTo(0.54, 1);
  });
});

describe('the setting of an event', () => {
  test.each(['off', 'auto', '480p', '720p,480p,360p', FIRST_CHOSEN])('%s is one', (text) => {
    expect(isRenditionSetting(text)).toBe(true);
  });
  test.each(['', 'on', '480', '360p,480p', '480p,480p', '7p', '4320p', '481p', '1080p,720p,540p,480p,360p'])(
    '%p is none',
    (text) => {
      expect(isRenditionSetting(text)).toBe(false);
    },
  );

  test('gains and loses sizes, and keeps the last', () => {
    expect(withSize('480p', 720, true)).toBe('720p,480p');
    expect(withSize('720p,480p', 720, false)).toBe('480p');
    expect(withSize('480p', 480, false)).toBe('480p');
  });

  test('takes a rate that the house has for a size', () => {
    const own = [{ heightPx: 480, videoBitrateBps: 900_000 }];
    expect(choiceIn('720p,480p', own)).toEqual([{ heightPx: 720, videoBitrateBps: null }, ...own]);
    expect(isSameChoice(choiceIn('480p', own), choiceIn('480p'))).toBe(false);
    expect(isSameChoice(choiceIn('480p'), choiceIn('480p'))).toBe(true);
    expect(isSameChoice('auto', choiceIn('480p'))).toBe(false);
  });
});

const SMALL: VideoTrack = { ...TRACKS.video!, widthPx: 854, heightPx: 480, codec: 'avc1.64001e' };
const FRAME_MS = 40;
const at = (ms: number): number => (ms * VIDEO_TIMESCALE) / 1000;

/** A programme of 25 pictures a second, and the encoding of it that lags behind. */
class Lagging {
  readonly original = new PackagingRoad();
  readonly follower = new FollowingPackager();
  readonly outputs: PackagerOutput[] = [];

  /** @returns what the follower made of it. */
  picture(ms: number, isKeyframe: boolean): PackagerOutput[] {
    return this.#follow(this.original.picture(ms, { isKeyframe }));
  }
  end(): PackagerOutput[] {
    return this.#follow(this.original.end());
  }
  encoded(ms: number, isKeyframe: boolean, initNumber = 0): PackagerOutput[] {
    const { decodeTime } = pictureAt(ms + 1000, { offsetMs: 0, isKeyframe, data: DATA });
    const frame = {
      ...pictureAt(0, { offsetMs: 0, isKeyframe, data: DATA }),
      timescale: VIDEO_TIMESCALE,
      decodeTime: at(decodeTime),
      presentationTime: at(decodeTime),
    };
    return this.#keep(this.follower.take(initNumber, SMALL, frame));
  }
  finish(initNumber = 0): PackagerOutput[] {
    return this.#keep(this.follower.finish(initNumber));
  }
  get parts(): Part[] {
    return this.outputs.flatMap((output) => (output.type === 'part' ? [output.part] : []));
  }
  #follow(cuts: readonly PackagerOutput[]): PackagerOutput[] {
    return cuts.flatMap((cut) => this.#keep(this.follower.follow(cut)));
  }
  #keep(made: PackagerOutput[]): PackagerOutput[] {
    this.outputs.push(...made);
    return made;
  }
}

const KEYFRAME_EVERY = 50;
const isKey = (index: number): boolean => index % KEYFRAME_EVERY === 0;

/** @param lag - how many pictures the encoding is behind */
function run(pictures: number, lag: number): Lagging {
  const lagging = new Lagging();
  for (let index = 0; index < pictures + lag; index += 1) {
    if (index < pictures) lagging.picture(index * FRAME_MS, isKey(index));
    if (index >= lag) lagging.encoded((index - lag) * FRAME_MS, isKey(index - lag));
  }
  lagging.end();
  lagging.finish();
  return lagging;
}

const videoOf = ({ bytes }: Part) => readMovieFragment(bytes).find(({ trackId }) => trackId === 1)!;

describe('a follower', () => {
  test('cuts where the original was cut, however far it is behind', () => {
    fc.assert(
      fc.property(fc.integer({ min: 60, max: 260 }), fc.integer({ min: 0, max: 90 }), (pictures, lag) => {
        const { original, parts, outputs } = run(pictures, lag);
        const shape = ({ bytes: _, ...part }: Part) => part;
        expect(parts.map(shape)).toEqual(original.parts.map(shape));
        const segments = outputs.flatMap((output) => (output.type === 'segment' ? [output.segment] : []));
        expect(segments).toEqual(original.segments);
        for (const [index, part] of parts.entries()) {
          const [video, before] = [videoOf(part), videoOf(original.parts[index]!)];
          expect(video.decodeTime).toBe(before.decodeTime);
          expect(video.samples.map(({ duration }) => duration)).toEqual(
            before.samples.map(({ duration }) => duration),
          );
        }
      }),
      { numRuns: 20 },
    );
  });

  test('gives a part once all of its pictures are encoded, and its header with the first', () => {
    const lagging = new Lagging();
    for (let index = 0; index < 20; index += 1) lagging.picture(index * FRAME_MS, index === 0);
    expect(lagging.outputs).toEqual([]);
    expect(lagging.encoded(0, true).map(({ type }) => type)).toEqual(['init', 'segment-begun', 'part-rule']);
    const [header] = lagging.outputs as [Extract<PackagerOutput, { type: 'init' }>];
    expect(header.codecs).toBe(`${SMALL.codec},${TRACKS.audio!.codec}`);
    expect(findBoxes(header.bytes, ['moov', 'trak'])).toHaveLength(2);
    const [first] = lagging.original.parts;
    const count = videoOf(first!).samples.length;
    for (let index = 1; index < count; index += 1)
      expect(lagging.encoded(index * FRAME_MS, false)).toEqual([]);
    expect(lagging.encoded(count * FRAME_MS, false).map(({ type }) => type)).toEqual(['part']);
  });

  test('carries the original sound, to the sample', () => {
    const lagging = new Lagging();
    for (let index = 0; index < 60; index += 1) {
      lagging.original.sound(index * FRAME_MS);
      lagging.picture(index * FRAME_MS, index === 0);
      lagging.encoded(index * FRAME_MS, index === 0);
    }
    const soundOf = ({ bytes }: Part) => readMovieFragment(bytes).filter(({ trackId }) => trackId === 2);
    expect(lagging.parts.length).toBeGreaterThan(3);
    for (const [index, part] of lagging.parts.entries())
      expect(soundOf(part)).toEqual(soundOf(lagging.original.parts[index]!));
  });

  test('passes over a run that nothing came of, and goes on with the next', () => {
    const lagging = new Lagging();
    for (let index = 0; index < 30; index += 1) lagging.picture(index * FRAME_MS, index === 0);
    lagging.end();
    expect(lagging.finish(0).map(({ type }) => type)).toEqual(['part-rule']);
    for (let index = 0; index < 30; index += 1) lagging.picture(10_000 + index * FRAME_MS, index === 0);
    lagging.encoded(1200, true, 1);
    expect(lagging.outputs.map(({ type }) => type)).toEqual(['part-rule', 'init', 'segment-begun']);
  });

  test('goes on without the pictures that an encoder lost', () => {
    const lagging = new Lagging();
    for (let index = 0; index < 60; index += 1) {
      lagging.picture(index * FRAME_MS, index === 0);
      if (index < 10 || index > 30) lagging.encoded(index * FRAME_MS, index === 0);
    }
    lagging.end();
    lagging.finish();
    expect(lagging.parts.map(({ number }) => number)).toEqual(
      lagging.original.parts.map(({ number }) => number),
    );
  });
});

describe('the times of encoded pictures', () => {
  /** As decoded, with the picture that each is shown as: two that come later are shown first. */
  const OUT_OF_ORDER = [0, 3, 1, 2, 6, 4, 5];

  test('are those of the pictures they were made of, and keyframes are decoded when those were', () => {
    const times = new PictureTimes();
    const sent = OUT_OF_ORDER.map((shown, decoded) => ({
      ...pictureAt(0, { offsetMs: 0, isKeyframe: decoded === 0, data: DATA }),
      timescale: VIDEO_TIMESCALE,
      decodeTime: at(decoded * FRAME_MS),
      presentationTime: at((shown + 2) * FRAME_MS),
    }));
    for (const frame of sent) times.send(Math.round(frame.presentationTime / 90), frame);
    const back = [2, 3, 4, 5, 6, 7, 8].map((shown) =>
      times.returned(
        shown * FRAME_MS,
        pictureAt(shown * FRAME_MS, { offsetMs: 0, isKeyframe: shown === 2, data: DATA }),
      ),
    );
    expect(back.map((frame) => frame!.presentationTime)).toEqual(
      [2, 3, 4, 5, 6, 7, 8].map((n) => at(n * FRAME_MS)),
    );
    expect(back.map((frame) => frame!.decodeTime)).toEqual(
      [0, 1, 2, 3, 4, 5, 6].map((n) => at(n * FRAME_MS)),
    );
  });

  test('nothing is made of a picture that was never sent', () => {
    expect(new PictureTimes().returned(40, { isKeyframe: true, data: DATA })).toBeNull();
  });
});
