import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { pictureAt, soundAt } from '../src/media/frame.js';
import { Timeline, type TimelineSignal } from '../src/media/timeline.js';
import { QuickPackager, type QuickOutput } from '../src/packaging/quick-packager.js';
import { readMovieFragment } from '../src/packaging/read-boxes.js';
import { TRACKS } from './packaging-road.js';

const DATA = new Uint8Array(20);

/** A timeline whose frames go to a quick picture. */
class Road {
  readonly packager = new QuickPackager();
  readonly outputs: QuickOutput[] = [];
  readonly #timeline = new Timeline();

  picture(ms: number, isKeyframe = false): readonly QuickOutput[] {
    const frame = pictureAt(ms, { offsetMs: 0, isKeyframe, data: DATA });
    return this.#take(this.#timeline.push(frame, TRACKS, 1000));
  }
  sound(ms: number): void {
    this.#take(this.#timeline.push(soundAt(ms, DATA), TRACKS, 1000));
  }
  restart(): void {
    this.#take(this.#timeline.break());
  }

  #take(signals: readonly TimelineSignal[]): readonly QuickOutput[] {
    const made = signals.flatMap((signal): readonly QuickOutput[] => {
      if (signal.type === 'frame') return this.packager.take(signal.frame);
      if (signal.type === 'run-began') this.packager.configure(signal.tracks);
      return [];
    });
    this.outputs.push(...made);
    return made;
  }
}

const kinds = (outputs: readonly QuickOutput[]): string[] => outputs.map(({ type }) => type);
const fragmentsOf = (outputs: readonly QuickOutput[]) =>
  outputs.flatMap((output) => (output.type === 'fragment' ? [readMovieFragment(output.bytes)] : []));
const picturesOf = (fragment: ReturnType<typeof readMovieFragment>) =>
  fragment.find(({ trackId }) => trackId === 1)!;

describe('a quick picture', () => {
  test('is made of each frame as it comes, without waiting for the next', () => {
    const road = new Road();
    expect(kinds(road.picture(0, true))).toEqual(['run', 'fragment']);
    expect(kinds(road.picture(33))).toEqual(['fragment']);
    expect(kinds(road.picture(66))).toEqual(['fragment']);
  });

  test('begins with a keyframe, also when somebody comes in the middle', () => {
    const road = new Road();
    road.picture(0, true);
    road.packager.skip();
    expect(road.picture(33)).toEqual([]);
    expect(kinds(road.picture(66, true))).toEqual(['run', 'fragment']);
  });

  test('has a header for each run, with the codecs that a browser is asked for', () => {
    const road = new Road();
    road.picture(0, true);
    road.restart();
    road.picture(5000, true);
    const runs = road.outputs.flatMap((output) => (output.type === 'run' ? [output.codecs] : []));
    expect(runs).toEqual(Array(2).fill('avc1.64001f,mp4a.40.2'));
  });

  test('keeps the programme’s time, and leaves no hole that would stop a player, at whatever rate and with whatever sound', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(15, 24, 25, 30, 50, 60),
        fc.integer({ min: 30, max: 200 }),
        fc.boolean(),
        (rateFps, count, hasSound) => {
          const road = new Road();
          for (let frame = 0; frame < count; frame += 1) {
            const ms = Math.round((frame * 1000) / rateFps);
            road.picture(ms, frame % rateFps === 0);
            if (hasSound) for (let at = 0; at < 1000 / rateFps; at += 1024 / 48) road.sound(ms + at);
          }
          const fragments = fragmentsOf(road.outputs);
          expect(fragments).toHaveLength(count);
          const pictures = fragments.map(picturesOf);
          pictures.slice(1).forEach(({ decodeTime }, index) => {
            const before = pictures[index]!;
            const { duration } = before.samples[0]!;
            // A millisecond at most, by which the times of RTMP are rounded, and the first of a run, which knows no rate yet.
            const holeTime = decodeTime - before.decodeTime - duration;
            expect(Math.abs(holeTime)).toBeLessThanOrEqual(index === 0 ? 6000 : 180);
          });
        },
      ),
      { numRuns: 40 },
    );
  });
});
