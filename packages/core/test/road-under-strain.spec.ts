import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { TimestampUnwrapper } from '../src/ingest/timestamp-unwrapper.js';
import { USUAL_PART_RULE } from '../src/packaging/part-rule.js';
import { findBoxes, readMovieFragment } from '../src/packaging/read-boxes.js';
import { PackagingRoad } from './packaging-road.js';

const FRAME_MS = (1024 * 1000) / 48_000;

/** A road on which what was made is read back out of the fragments. */
class Line extends PackagingRoad {
  /** Picture and sound from one instant to another, a keyframe every 2 s. */
  run(fromMs: number, toMs: number, { rateFps = 30, withSound = true } = {}): this {
    const stepMs = 1000 / rateFps;
    for (let index = 0; fromMs + index * stepMs < toMs; index += 1) {
      const atMs = fromMs + index * stepMs;
      const isKeyframe = !this.timeline.isRunning || index % Math.round(2 * rateFps) === 0;
      this.picture(Math.round(atMs), { isKeyframe });
      if (!withSound) continue;
      for (let soundMs = atMs; soundMs < atMs + stepMs; soundMs += FRAME_MS) this.sound(Math.round(soundMs));
    }
    return this;
  }
  /** Decode time and duration, in ticks, of every sample of a track over the whole line. */
  samples(trackId: number): { time: number; duration: number }[] {
    return this.parts.flatMap((part) =>
      readMovieFragment(part.bytes)
        .filter((track) => track.trackId === trackId)
        .flatMap(({ decodeTime, samples }) => {
          let time = decodeTime;
          return samples.map(({ duration }) => {
            const sample = { time, duration };
            time += duration;
            return sample;
          });
        }),
    );
  }
}

describe('an encoder’s clock', () => {
  test('passes the 32-bit edge without a jump, wherever it stood', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 2 ** 32 - 1 }),
        fc.array(fc.integer({ min: -3_600_000, max: 3_600_000 }), { maxLength: 50 }),
        (startMs, steps) => {
          const unwrapper = new TimestampUnwrapper();
          let trueMs = startMs;
          expect(unwrapper.unwrap(startMs)).toBe(trueMs);
          for (const step of steps) {
            trueMs += step;
            expect(unwrapper.unwrap(((trueMs % 2 ** 32) + 2 ** 32) % 2 ** 32)).toBe(trueMs);
          }
        },
      ),
    );
  });

  test.each([
    ['forward by an hour', 3_600_000],
    ['forward by four seconds', 4000],
    ['back by an hour', -3_600_000],
    ['back by a second', -1000],
  ])('%s asks for a new run behind a discontinuity', (_name, stepMs) => {
    const line = new Line().run(10_000_000, 10_003_000);
    expect(line.picture(10_003_000 + stepMs)).toEqual([]);
    expect(line.timeline.tracks).toBeNull();
    const begun = line.picture(10_003_033 + stepMs, { isKeyframe: true });
    expect(begun).toContainEqual(expect.objectContaining({ type: 'segment-begun', discontinuity: true }));
  });

  test('slips back by a little: pictures still follow one another', () => {
    const line = new Line().run(0, 3000, { withSound: false });
    for (const atMs of [2900, 2933, 2966, 3000, 3033, 3400, 3800]) line.picture(atMs);
    const times = line.samples(1).map(({ time }) => time);
    expect(times).toEqual([...times].sort((a, b) => a - b));
    expect(new Set(times).size).toBe(times.length);
  });
});

describe('pictures that come unevenly', () => {
  test.each([25, 29.97, 30, 50, 59.94, 60])('%d fps makes parts of the promised length', (rateFps) => {
    const line = new Line().run(0, 20_000, { rateFps });
    for (const part of line.parts)
      expect(part.durationSeconds).toBeLessThanOrEqual(USUAL_PART_RULE.targetSeconds);
  });

  test('a gap of a second is told in parts of the promised length, which carry its sound', () => {
    const line = new Line().run(0, 2000).run(3000, 6000);
    for (const part of line.parts)
      expect(part.durationSeconds).toBeLessThanOrEqual(USUAL_PART_RULE.targetSeconds);
    const pictures = line.samples(1);
    expect(Math.max(...pictures.map(({ duration }) => duration)) / 90).toBeGreaterThan(900);
    for (const part of line.parts) expect(readMovieFragment(part.bytes).length).toBeGreaterThan(0);
  });

  test('variable rates never make decode times run back or parts run together', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 900 }), { minLength: 20, maxLength: 120 }), (steps) => {
        const line = new Line();
        let atMs = 0;
        steps.forEach((step, index) => {
          line.picture(atMs, { isKeyframe: index % 15 === 0 });
          line.sound(atMs);
          atMs += step;
        });
        let end = -1;
        for (const { time, duration } of line.samples(1)) {
          expect(time).toBeGreaterThanOrEqual(end);
          end = time + duration;
        }
      }),
      { numRuns: 60 },
    );
  });

  test('a composition offset may be negative', () => {
    const line = new Line();
    line.picture(0, { isKeyframe: true, offsetMs: -33 });
    for (let index = 1; index < 40; index += 1) line.picture(index * 33, { offsetMs: index % 2 ? -33 : 33 });
    const offsets = line.parts.flatMap((part) =>
      readMovieFragment(part.bytes)[0]!.samples.map((sample) => sample.compositionOffset),
    );
    expect(Math.min(...offsets)).toBe(-33 * 90);
  });
});

describe('sound', () => {
  const silentMs = (line: Line): number => {
    const samples = line.samples(2);
    return Math.max(0, ...samples.slice(1).map(({ time }, index) => (time - samples[index]!.time) / 48));
  };

  test('that stops is followed by silence, so that players go on', () => {
    const line = new Line().run(0, 4000).run(4000, 10_000, { withSound: false });
    const last = line.samples(2).at(-1)!;
    const lastPicture = line.samples(1).at(-1)!;
    expect(lastPicture.time / 90_000 - last.time / 48_000).toBeLessThan(0.6);
    expect(silentMs(line)).toBeLessThan(30);
  });

  test('lasts as long as the picture when the encoder goes, however late the encoder sends it', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 450 }), (behindMs) => {
        const line = new Line().run(0, 3000).run(3000, 3000 + behindMs, { withSound: false });
        line.end();
        const [picture, sound] = [line.samples(1).at(-1)!, line.samples(2).at(-1)!];
        const endsApartMs = (picture.time + picture.duration) / 90 - (sound.time + sound.duration) / 48;
        expect(Math.abs(endsApartMs)).toBeLessThanOrEqual(FRAME_MS + 1);
      }),
    );
  });

  test('that comes back after a pause takes its place again, within 40 ms of the picture', () => {
    const line = new Line().run(0, 4000).run(4000, 8000, { withSound: false }).run(8000, 14_000);
    const offsets = line.samples(2).slice(-20);
    const drift = (offsets.at(-1)!.time - offsets[0]!.time) / 48 - 19 * FRAME_MS;
    expect(Math.abs(drift)).toBeLessThan(40);
    expect(silentMs(line)).toBeLessThan(60);
  });

  test('of a whole hour stays within 40 ms of its own time, though its clock runs 0.01 % fast, and memory stays flat', () => {
    const line = new Line();
    const drifting = 1.0001;
    const trueMs = (index: number): number => Math.round(index * FRAME_MS * drifting);
    let sounds = 0;
    let worstMs = 0;
    let mostHeld = 0;
    for (let picture = 0; picture < 3600 * 29.97; picture += 1) {
      const atMs = (picture * 1000) / 29.97;
      line.picture(Math.round(atMs), { isKeyframe: picture % 60 === 0 });
      for (; trueMs(sounds) <= atMs; sounds += 1) line.sound(trueMs(sounds), numbered(sounds));
      for (const { index, atMs: placedMs } of line.parts.flatMap(({ bytes }) => numberedSounds(bytes)))
        worstMs = Math.max(worstMs, Math.abs(placedMs - (1000 + trueMs(index))));
      mostHeld = Math.max(mostHeld, line.outputs.length);
      line.outputs.length = 0;
    }
    expect(worstMs).toBeLessThan(40);
    expect(mostHeld).toBeLessThan(8);
  });
});

/** A frame of sound that carries its number; silence that was filled in is shorter. */
function numbered(index: number): Uint8Array {
  const data = new Uint8Array(8);
  new DataView(data.buffer).setUint32(0, index);
  return data;
}

/** The numbered sounds of a fragment, and where on the programme's time each was placed. */
function numberedSounds(fragment: Uint8Array): { index: number; atMs: number }[] {
  const [media] = findBoxes(fragment, ['mdat']);
  const view = new DataView(media!.content.buffer, media!.content.byteOffset);
  let at = 0;
  return readMovieFragment(fragment).flatMap(({ trackId, decodeTime, samples }) => {
    let time = decodeTime;
    return samples.flatMap(({ sizeBytes, duration }) => {
      const found = trackId === 2 && sizeBytes === 8 ? [{ index: view.getUint32(at), atMs: time / 48 }] : [];
      at += sizeBytes;
      time += duration;
      return found;
    });
  });
}
