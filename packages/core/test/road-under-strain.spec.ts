import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { TimestampUnwrapper } from '../src/ingest/timestamp-unwrapper.js';
import { Packager, type PackagerOutput, type Part } from '../src/packaging/packager.js';
import type { Tracks } from '../src/packaging/init-segment.js';
import { CUTTING } from '../src/packaging/packager.js';
import { findBoxes, readMovieFragment } from '../src/packaging/read-boxes.js';

const VIDEO = { config: Uint8Array.of(1, 100, 0, 31), widthPx: 1280, heightPx: 720, codec: 'avc1.64001f' };
const AUDIO = { config: Uint8Array.of(0x11, 0x90), sampleRateHz: 48_000, channels: 2, codec: 'mp4a.40.2' };
const BOTH: Tracks = { video: VIDEO, audio: AUDIO };
const SOUND_ALONE = { video: null, audio: AUDIO } as const;
const DATA = new Uint8Array(8);
const FRAME_MS = (1024 * 1000) / 48_000;

/** A programme fed by hand, picture by picture; what it made is read back out of the fragments. */
class Line {
  readonly packager = new Packager();
  readonly outputs: PackagerOutput[] = [];

  picture(decodeMs: number, isKeyframe = false, compositionOffsetMs = 0): PackagerOutput[] | 'clock-step' {
    const frame = { decodeMs, compositionOffsetMs, isKeyframe, data: DATA };
    const made = this.packager.isRunning
      ? this.packager.video(frame)
      : this.packager.begin(BOTH, frame, 1000);
    if (made !== 'clock-step') this.outputs.push(...made);
    return made;
  }
  sound(decodeMs: number): void {
    const made = this.packager.audio({ decodeMs, data: DATA });
    if (made !== 'clock-step') this.outputs.push(...made);
  }
  /** Picture and sound from one instant to another, a keyframe every 2 s. */
  run(fromMs: number, toMs: number, { rateFps = 30, withSound = true } = {}): this {
    const stepMs = 1000 / rateFps;
    for (let index = 0; fromMs + index * stepMs < toMs; index += 1) {
      const atMs = fromMs + index * stepMs;
      const isKeyframe = !this.packager.isRunning || index % Math.round(2 * rateFps) === 0;
      this.picture(Math.round(atMs), isKeyframe);
      if (!withSound) continue;
      for (let soundMs = atMs; soundMs < atMs + stepMs; soundMs += FRAME_MS) this.sound(Math.round(soundMs));
    }
    return this;
  }
  get parts(): Part[] {
    return this.outputs.flatMap((output) => (output.type === 'part' ? [output.part] : []));
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
    expect(line.picture(10_003_000 + stepMs)).toBe('clock-step');
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
      expect(part.durationSeconds).toBeLessThanOrEqual(CUTTING.partTargetSeconds);
  });

  test('a gap of a second is told in parts of the promised length, which carry its sound', () => {
    const line = new Line().run(0, 2000).run(3000, 6000);
    for (const part of line.parts)
      expect(part.durationSeconds).toBeLessThanOrEqual(CUTTING.partTargetSeconds);
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
          line.picture(atMs, index % 15 === 0);
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
    line.picture(0, true, -33);
    for (let index = 1; index < 40; index += 1) line.picture(index * 33, false, index % 2 ? -33 : 33);
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
        line.outputs.push(...line.packager.end());
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

  test('alone is cut by itself: every part can be begun with', () => {
    const packager = new Packager();
    const outputs = [...packager.beginSound(SOUND_ALONE, { decodeMs: 0, data: DATA }, 500)];
    for (let index = 1; index < 500; index += 1) {
      const made = packager.audio({ decodeMs: Math.round(index * FRAME_MS), data: DATA });
      if (made !== 'clock-step') outputs.push(...made);
    }
    const parts = outputs.flatMap((output) => (output.type === 'part' ? [output.part] : []));
    expect(parts.every((part) => part.independent)).toBe(true);
    for (const part of parts) expect(part.durationSeconds).toBeLessThanOrEqual(CUTTING.partTargetSeconds);
    expect(outputs.filter((output) => output.type === 'segment').length).toBeGreaterThan(3);
    const [init] = outputs;
    expect(init?.type === 'init' && findBoxes(init.bytes, ['moov', 'trak'])).toHaveLength(1);
    expect(packager.audio({ decodeMs: 9_000_000, data: DATA })).toBe('clock-step');
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
      line.picture(Math.round(atMs), picture % 60 === 0);
      for (; trueMs(sounds) <= atMs; sounds += 1)
        line.packager.audio({ decodeMs: trueMs(sounds), data: numbered(sounds) });
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
