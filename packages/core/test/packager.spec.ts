import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  CUTTING,
  Packager,
  type PackagerOutput,
  type Part,
  type Segment,
} from '../src/packaging/packager.js';
import type { Tracks } from '../src/packaging/init-segment.js';

const TRACKS: Tracks = {
  video: { config: Uint8Array.of(1, 100, 0, 31), widthPx: 1280, heightPx: 720, codec: 'avc1.64001f' },
  audio: { config: Uint8Array.of(0x11, 0x90), sampleRateHz: 48_000, channels: 2, codec: 'mp4a.40.2' },
};
const DATA = new Uint8Array(20);

const took = (made: PackagerOutput[] | 'clock-step'): PackagerOutput[] => (made === 'clock-step' ? [] : made);

/** Sends pictures of a frame rate, a keyframe every `gop` of them, through a packager. */
class Encoder {
  readonly outputs: PackagerOutput[] = [];
  #frame = 0;
  constructor(
    readonly packager: Packager,
    private readonly rateFps: number,
    private readonly gop: number,
    private readonly startMs = 5000,
  ) {}

  get parts(): Part[] {
    return this.outputs.flatMap((output) => (output.type === 'part' ? [output.part] : []));
  }
  get segments(): Segment[] {
    return this.outputs.flatMap((output) => (output.type === 'segment' ? [output.segment] : []));
  }

  send(frames: number, atMs = 0): this {
    for (let sent = 0; sent < frames; sent += 1) {
      const decodeMs = this.startMs + Math.round((this.#frame * 1000) / this.rateFps);
      const frame = {
        decodeMs,
        compositionOffsetMs: 0,
        isKeyframe: this.#frame % this.gop === 0,
        data: DATA,
      };
      const made = this.packager.isRunning
        ? this.packager.video(frame)
        : this.packager.begin(TRACKS, frame, atMs);
      if (made !== 'clock-step') this.outputs.push(...made);
      this.outputs.push(...took(this.packager.audio({ decodeMs, data: DATA })));
      this.#frame += 1;
    }
    return this;
  }

  end(): this {
    this.outputs.push(...this.packager.end());
    return this;
  }
}

const encoder = (rateFps: number, gop: number): Encoder => new Encoder(new Packager(), rateFps, gop);

describe('cutting', () => {
  test('parts of 720p30 are a third of a second, segments end at keyframes', () => {
    const { parts, segments } = encoder(30, 60).send(301);
    expect(parts.slice(0, 5).map((part) => part.durationSeconds.toFixed(2))).toEqual(Array(5).fill('0.33'));
    expect(segments.map((segment) => segment.durationSeconds.toFixed(1))).toEqual(Array(5).fill('2.0'));
    expect(parts.filter((part) => part.independent)).toHaveLength(5);
  });

  test.each([24, 25, 29.97, 30, 48, 50, 59.94, 60])(
    'every part of %d fps but a segment’s last is at least 0.298 s',
    (rateFps) => {
      const { parts, segments } = encoder(rateFps, Math.round(rateFps * 2)).send(600);
      const last = new Set(segments.map((segment) => segment.firstPart + segment.partCount - 1));
      for (const part of parts) {
        expect(part.durationSeconds).toBeLessThanOrEqual(CUTTING.partTargetSeconds);
        if (!last.has(part.number))
          expect(part.durationSeconds).toBeGreaterThanOrEqual(0.85 * CUTTING.partTargetSeconds);
      }
    },
  );

  test('without a keyframe a segment ends at the part boundary nearest four seconds', () => {
    const { segments } = encoder(30, 10_000).send(400);
    for (const segment of segments)
      expect(Math.round(segment.durationSeconds)).toBeLessThanOrEqual(CUTTING.targetDurationSeconds);
    expect(segments.map((segment) => segment.durationSeconds.toFixed(1))).toEqual(['4.0', '4.0', '4.0']);
  });

  test('a keyframe sooner than 1.5 s does not end a segment', () => {
    const { segments } = encoder(30, 15).send(200);
    expect(segments.map((segment) => segment.durationSeconds.toFixed(1))).toEqual([
      '1.5',
      '1.5',
      '1.5',
      '1.5',
    ]);
  });

  test('nothing of the time is lost, whatever the rhythm of the pictures', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 5, max: 200 }), { minLength: 20, maxLength: 200 }),
        (stepsMs) => {
          const packager = new Packager();
          const outputs: PackagerOutput[] = [];
          let decodeMs = 0;
          stepsMs.forEach((stepMs, index) => {
            const frame = { decodeMs, compositionOffsetMs: 0, isKeyframe: index % 30 === 0, data: DATA };
            const made = index === 0 ? packager.begin(TRACKS, frame, 1000) : packager.video(frame);
            if (made !== 'clock-step') outputs.push(...made);
            decodeMs += stepMs;
          });
          outputs.push(...packager.end());
          const segments = outputs.flatMap((output) => (output.type === 'segment' ? [output.segment] : []));
          const total = segments.reduce((sum, segment) => sum + segment.durationSeconds, 0);
          const sentSeconds = stepsMs.slice(0, -1).reduce((sum, step) => sum + step, 0) / 1000;
          expect(total).toBeGreaterThanOrEqual(sentSeconds);
          expect(total).toBeLessThan(sentSeconds + 0.201);
          segments.forEach((segment, index) => {
            const next = segments[index + 1];
            if (next)
              expect(next.programmeMs).toBeCloseTo(segment.programmeMs + segment.durationSeconds * 1000, -1);
          });
        },
      ),
    );
  });
});

describe('an encoder that goes and comes back', () => {
  const packager = new Packager();
  const first = new Encoder(packager, 30, 60).send(100).end();
  const second = new Encoder(packager, 30, 60, 90_000).send(100, 20_000).end();

  test('numbers only rise, and a withdrawn part number is not used again', () => {
    const withdrawn = first.outputs.flatMap((output) =>
      output.type === 'hint-withdrawn' ? [output.partNumber] : [],
    );
    expect(withdrawn).toHaveLength(1);
    expect(second.parts[0]!.number).toBe(withdrawn[0]! + 1);
    expect(second.segments[0]!.sequence).toBe(first.segments.at(-1)!.sequence + 1);
  });

  test('the picture goes on behind a discontinuity, at the programme’s own time, with its own init segment', () => {
    expect(second.segments[0]).toMatchObject({ discontinuity: true, programmeMs: 20_000, initNumber: 1 });
    expect(first.segments[0]).toMatchObject({ discontinuity: false, programmeMs: 0, initNumber: 0 });
    expect(second.segments[1]!.discontinuity).toBe(false);
  });

  test('time never runs back, even when the wanted place lies in what was already shown', () => {
    const early = new Packager();
    const before = new Encoder(early, 30, 60).send(90).end();
    const after = new Encoder(early, 30, 60).send(90, 0).end();
    const endMs = before.segments.at(-1)!.programmeMs + before.segments.at(-1)!.durationSeconds * 1000;
    expect(after.segments[0]!.programmeMs).toBeGreaterThanOrEqual(Math.floor(endMs));
  });
});

test('a jump of the encoder’s clock asks for a new beginning', () => {
  const { packager } = encoder(30, 60).send(10);
  expect(packager.video({ decodeMs: 100_000, compositionOffsetMs: 0, isKeyframe: false, data: DATA })).toBe(
    'clock-step',
  );
  expect(packager.video({ decodeMs: 1000, compositionOffsetMs: 0, isKeyframe: false, data: DATA })).toBe(
    'clock-step',
  );
});
