import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { LoudnessMeter } from '../src/loudness/loudness-meter.js';
import { TruePeak, WEIGHTS } from '../src/loudness/true-peak.js';
import { judgeLoudness } from '../src/readiness/readiness.js';
import {
  CHECK_PICTURE,
  checkPicture,
  NO_PICTURE_CHECKED,
  type PictureCheckState,
} from '../src/signal/picture-check.js';

const RATE = 48_000;

/** A stereo tone of so many dBFS, heard for so long, handed over in odd pieces. */
function hear(meter: LoudnessMeter, dbfs: number, seconds: number, hertz = 997): void {
  const amplitude = 10 ** (dbfs / 20);
  const samples = new Float32Array(RATE * seconds * 2);
  for (let index = 0; index < samples.length / 2; index += 1) {
    const value = amplitude * Math.sin((2 * Math.PI * hertz * index) / RATE);
    samples[2 * index] = value;
    samples[2 * index + 1] = value;
  }
  for (let at = 0; at < samples.length; at += 3331) meter.push(samples.subarray(at, at + 3331));
}

/** Annex 2 of BS.1770 word for word: each place, each phase. Before the sound there was silence. */
function everyInterpolatedPeak(samples: Float32Array): number {
  const taps = WEIGHTS[0]!.length;
  const all = [...new Array<number>(taps - 1).fill(0), ...samples];
  const places = all.slice(taps - 1).map((_, place) => all.slice(place, place + taps));
  return Math.max(
    ...places.flatMap((window) =>
      WEIGHTS.map((phase) => Math.abs(phase.reduce((sum, weight, tap) => sum + weight * window[tap]!, 0))),
    ),
  );
}

describe('loudness after EBU R 128', () => {
  test('a stereo tone of −23 dBFS at 997 Hz is −23 LUFS, momentary, short-term and integrated (Tech 3341, case 1)', () => {
    const meter = new LoudnessMeter(2);
    hear(meter, -23, 20);
    const { momentaryLufs, shortTermLufs, integratedLufs, truePeakDbtp } = meter.report();
    for (const value of [momentaryLufs, shortTermLufs, integratedLufs])
      expect(Math.abs(value! + 23)).toBeLessThan(0.1);
    expect(Math.abs(truePeakDbtp! + 23)).toBeLessThan(0.3);
  });
  test('the gate leaves pauses out (Tech 3341, case 3)', () => {
    const meter = new LoudnessMeter(2);
    hear(meter, -36, 10);
    hear(meter, -23, 60);
    hear(meter, -36, 10);
    expect(Math.abs(meter.report().integratedLufs! + 23)).toBeLessThan(0.1);
  });
  test('a peak between two samples is found (Tech 3341, case 15)', () => {
    const meter = new LoudnessMeter(2);
    hear(meter, -6, 1, RATE / 4);
    expect(Math.abs(meter.report().truePeakDbtp! + 6)).toBeLessThan(0.4);
  });
  test('what is passed over as too low could not have been the peak, whatever the sound', () => {
    const sound = fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { minLength: 60, maxLength: 400 });
    const tone = fc
      .record({ hertz: fc.integer({ min: 20, max: 20_000 }), length: fc.integer({ min: 60, max: 3000 }) })
      .map(({ hertz, length }) =>
        Array.from({ length }, (_, index) => Math.sin((2 * Math.PI * hertz * index) / RATE)),
      );
    fc.assert(
      fc.property(fc.oneof(sound, tone), fc.integer({ min: 1, max: 300 }), (values, pieceLength) => {
        const samples = Float32Array.from(values);
        const meter = new TruePeak();
        for (let at = 0; at < samples.length; at += pieceLength)
          meter.push(samples.subarray(at, at + pieceLength));
        expect(meter.peak).toBeCloseTo(everyInterpolatedPeak(samples), 10);
      }),
    );
  });
  test('nothing is known before there was enough, and silence is timed', () => {
    const meter = new LoudnessMeter(1);
    expect(meter.report()).toMatchObject({ momentaryLufs: null, integratedLufs: null, truePeakDbtp: null });
    meter.push(new Float32Array(RATE * 12));
    expect(meter.report()).toMatchObject({ integratedLufs: null, silentMs: 12_000 });
    expect(judgeLoudness(meter.report())).toEqual({ status: 'warns', kind: 'silent' });
  });
});

describe('what is in the picture', () => {
  const cells = (fill: (index: number) => number): Uint8Array =>
    Uint8Array.from({ length: CHECK_PICTURE.widthPx * CHECK_PICTURE.heightPx }, (_, index) => fill(index));
  const scene = cells((index) => 40 + (index % 150));
  const look = (pictures: readonly Uint8Array[], everyMs = 2000): PictureCheckState =>
    pictures.reduce(
      (state, picture, index) => checkPicture(state, picture, index * everyMs),
      NO_PICTURE_CHECKED,
    );

  test('moving pictures are neither black nor standing', () => {
    const moving = Array.from({ length: 20 }, (_, shift) =>
      cells((index) => 40 + ((index + shift * 7) % 150)),
    );
    expect(look(moving)).toMatchObject({ blackSinceMs: null, frozenSinceMs: null });
  });
  test('the very same picture for twenty seconds stands, whatever compression adds', () => {
    const noisy = Array.from({ length: 12 }, (_, turn) =>
      cells((index) => scene[index]! + ((index + turn) % 2)),
    );
    expect(look(noisy).frozenSinceMs).not.toBeNull();
    expect(look(noisy.slice(0, 8)).frozenSinceMs).toBeNull();
  });
  test('black is told at once, and is not called standing', () => {
    expect(look(Array.from({ length: 20 }, () => cells(() => 16)))).toMatchObject({
      blackSinceMs: 0,
      frozenSinceMs: null,
    });
    expect(look([cells(() => 16), scene]).blackSinceMs).toBeNull();
  });
  test('one lamp in a dark chapel is no black picture', () => {
    expect(look([cells((index) => (index === 200 ? 90 : 16))]).blackSinceMs).toBeNull();
  });
});
