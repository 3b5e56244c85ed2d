import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { decodeMs, isPicture, pictureAt, soundAt } from '../src/media/frame.js';
import { Timeline } from '../src/media/timeline.js';
import { type ArrivedFrame, WaitingPictures } from '../src/media/waiting-pictures.js';
import { DATA, TRACKS } from './packaging-road.js';

/** A source whose clock is 5 s behind ours; every picture comes with its sound. */
const BEHIND_MS = 5000;
const REORDERED_MS = 80;
interface Habits {
  readonly rateFps?: number;
  readonly gop?: number;
  readonly forMs?: number;
}
function waitingFor({ rateFps = 25, gop = 50, forMs = 7000 }: Habits = {}): WaitingPictures {
  const waiting = new WaitingPictures();
  for (let nth = 0; (nth * 1000) / rateFps <= forMs; nth += 1) {
    const ms = Math.round((nth * 1000) / rateFps);
    const arrived = { tracks: TRACKS, atMs: ms + BEHIND_MS };
    waiting.take({
      ...arrived,
      frame: pictureAt(ms, { offsetMs: REORDERED_MS, isKeyframe: nth % gop === 0, data: DATA }),
    });
    waiting.take({ ...arrived, frame: soundAt(ms, DATA) });
  }
  return waiting;
}
const picturesOf = (frames: readonly ArrivedFrame[]) => frames.filter(({ frame }) => isPicture(frame));

describe('a source that takes over from one that stopped', () => {
  test('goes on from there at its own times; what a decoder needs before that passes by in a moment', () => {
    const frames = waitingFor().from(11_500)!;
    const times = picturesOf(frames).map(({ frame }) => decodeMs(frame));
    expect(frames[0]!.frame.isKeyframe).toBe(true);
    expect(frames[0]!.atMs).toBe(11_500);
    expect(times[0]).toBeCloseTo(6500, 0);
    // 13 pictures lie between its keyframe at 6 s and there.
    expect(times.filter((ms) => ms < 6526)).toHaveLength(14);
    expect(times.slice(-4)).toEqual([6880, 6920, 6960, 7000]);
    expect(frames.filter(({ frame }) => !isPicture(frame)).map(({ frame }) => decodeMs(frame))[0]).toBe(6520);
  });

  test('begins with its keyframe where that came after the other had stopped', () => {
    const frames = waitingFor({ forMs: 1000 }).from(4700)!;
    expect(decodeMs(frames[0]!.frame)).toBe(0);
    expect(frames[0]!.atMs).toBe(BEHIND_MS);
  });

  test('cannot without a keyframe, nor after more pictures than anybody would run through', () => {
    expect(new WaitingPictures().from(0)).toBeNull();
    expect(waitingFor({ gop: 1000, forMs: 6500 }).from(11_000)).toBeNull();
  });

  test('is on the programme in rising times, from where that stopped to where it is now, wherever that is', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(10, 25, 30, 50, 60),
        fc.integer({ min: 5000, max: 8000 }),
        fc.integer({ min: 0, max: 1500 }),
        (rateFps, forMs, agoMs) => {
          const nowMs = forMs + BEHIND_MS;
          const frames = waitingFor({ rateFps, gop: rateFps * 2, forMs }).from(nowMs - agoMs)!;
          const timeline = new Timeline();
          const signals = frames.flatMap(({ frame, tracks, atMs }) => timeline.push(frame, tracks, atMs));
          const times = signals.flatMap((signal) =>
            signal.type === 'frame' && isPicture(signal.frame) ? [decodeMs(signal.frame)] : [],
          );
          const steps = times.slice(1).map((ms, nth) => ms - times[nth]!);
          expect(Math.min(...steps)).toBeGreaterThanOrEqual(1);
          expect(Math.max(...steps)).toBeLessThanOrEqual(1000 / rateFps + 1);
          expect(Math.abs(times[0]! - (nowMs - agoMs))).toBeLessThan(REORDERED_MS + 2000 / rateFps);
          expect(timeline.endMs - nowMs).toBeLessThan(300);
        },
      ),
    );
  });
});
