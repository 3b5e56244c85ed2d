import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  compositionOffsetMs,
  decodeMs,
  type Frame,
  isPicture,
  pictureAt,
  soundAt,
} from '../src/media/frame.js';
import { Timeline, type TimelineSignal } from '../src/media/timeline.js';
import { type Tracks, VIDEO_TIMESCALE } from '../src/media/track.js';
import { TRACKS } from './packaging-road.js';

const DATA = Uint8Array.of(1);
const picture = (ms: number, isKeyframe = false, offsetMs = 0): Frame =>
  pictureAt(ms, { offsetMs, isKeyframe, data: DATA });
const framesOf = (signals: readonly TimelineSignal[]): Frame[] =>
  signals.flatMap((signal) => (signal.type === 'frame' ? [signal.frame] : []));
const typesOf = (signals: readonly TimelineSignal[]): string[] => signals.map(({ type }) => type);

describe('a programme’s timeline', () => {
  test('puts a run where its first keyframe came, and everything after by the encoder’s own times', () => {
    const timeline = new Timeline();
    expect(timeline.push(picture(70_000), TRACKS, 5000)).toEqual([]);
    const begun = timeline.push(picture(70_033, true), TRACKS, 5033);
    expect(typesOf(begun)).toEqual(['run-began', 'frame']);
    expect(begun[0]).toMatchObject({ startsAtMs: 5033 });
    // However late it comes, it stands where the encoder took it.
    const [next] = framesOf(timeline.push(picture(70_073), TRACKS, 9999));
    expect(decodeMs(next!)).toBeCloseTo(5073, 1);
    const [sound] = framesOf(timeline.push(soundAt(70_053, DATA), TRACKS, 9999));
    expect([decodeMs(sound!), sound!.timescale]).toEqual([5053, 48_000]);
  });

  test('shows the first picture at once, also where it is shown later than it is decoded', () => {
    const [first] = framesOf(new Timeline().push(picture(0, true, 80), TRACKS, 1000));
    expect(decodeMs(first!) + compositionOffsetMs(first!)).toBeCloseTo(1000, 1);
  });

  test('never runs back, and never stands still, whatever encoders do to their clocks and whenever they come', () => {
    const step = fc.record({
      stepMs: fc.integer({ min: -4000, max: 4000 }),
      isKeyframe: fc.boolean(),
      atStepMs: fc.nat(2000),
      goes: fc.integer({ min: 0, max: 9 }).map((dice) => dice === 0),
    });
    fc.assert(
      fc.property(fc.array(step, { minLength: 5, maxLength: 80 }), fc.nat(60_000), (steps, endMs) => {
        const timeline = new Timeline(endMs);
        let [sourceMs, atMs, last] = [0, 0, (endMs * VIDEO_TIMESCALE) / 1000 - 1];
        for (const { stepMs, isKeyframe, atStepMs, goes } of steps) {
          sourceMs += stepMs;
          atMs += atStepMs;
          const signals = goes
            ? timeline.break()
            : timeline.push(picture(sourceMs, isKeyframe), TRACKS, atMs);
          for (const frame of framesOf(signals).filter(isPicture)) {
            expect(frame.decodeTime).toBeGreaterThan(last);
            last = frame.decodeTime;
          }
          const ended = signals.find((signal) => signal.type === 'run-ended');
          if (ended?.type === 'run-ended' && !signals.some(({ type }) => type === 'frame'))
            expect(ended.endTime).toBeGreaterThan(last);
        }
      }),
    );
  });

  test('ends a run where its last picture ends, before the next begins', () => {
    const timeline = new Timeline();
    timeline.push(picture(0, true), TRACKS, 0);
    timeline.push(picture(40), TRACKS, 40);
    expect(timeline.break()).toEqual([{ type: 'run-ended', endTime: 80 * 90 }]);
    expect([timeline.break(), timeline.isRunning, timeline.tracks]).toEqual([[], false, null]);
    expect(timeline.push(picture(9000, true), TRACKS, 10)[0]).toMatchObject({ startsAtMs: 80 });
  });

  test('shows a run after all that was shown before, however the pictures of that were ordered', () => {
    const order = fc.array(fc.integer({ min: 0, max: 4 }), { minLength: 1, maxLength: 30 });
    fc.assert(
      fc.property(order, fc.integer({ min: 0, max: 4 }), (offsets, nextOffset) => {
        const timeline = new Timeline();
        const shown = offsets.flatMap((offset, nth) =>
          framesOf(timeline.push(picture(nth * 40, nth === 0, offset * 40), TRACKS, 1000)),
        );
        const last = Math.max(...shown.map(({ presentationTime }) => presentationTime));
        const decoded = shown.at(-1)!.decodeTime;
        timeline.break();
        const [next] = framesOf(timeline.push(picture(0, true, nextOffset * 40), TRACKS, 0));
        expect(next!.presentationTime).toBeGreaterThan(last);
        expect(next!.decodeTime).toBeGreaterThan(decoded);
      }),
    );
  });

  test('goes on with the picture when other sound comes, and takes that sound from the next keyframe on', () => {
    const timeline = new Timeline();
    const other: Tracks = { video: TRACKS.video, audio: { ...TRACKS.audio!, sampleRateHz: 44_100 } };
    timeline.push(picture(0, true), TRACKS, 0);
    expect(framesOf(timeline.push(soundAt(20, DATA), other, 20))).toEqual([]);
    expect(typesOf(timeline.push(picture(40), other, 40))).toEqual(['frame']);
    expect(typesOf(timeline.push(picture(80, true), other, 80))).toEqual(['run-ended', 'run-began', 'frame']);
    expect(framesOf(timeline.push(soundAt(100, DATA), other, 100))[0]!.timescale).toBe(44_100);
  });
});
