import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { soundAt } from '../src/media/frame.js';
import { AudioQueue } from '../src/packaging/audio-queue.js';
import { CUTTING, type PackagerOutput, type Part, type Segment } from '../src/packaging/packager.js';
import { DATA, PackagingRoad, TRACKS } from './packaging-road.js';

/** Sends pictures of a frame rate, a keyframe every `gop` of them, down a road. */
class Encoder {
  readonly outputs: PackagerOutput[] = [];
  #frame = 0;
  constructor(
    readonly road: PackagingRoad,
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
      const ms = this.startMs + Math.round((this.#frame * 1000) / this.rateFps);
      this.outputs.push(...this.road.picture(ms, { isKeyframe: this.#frame % this.gop === 0, atMs }));
      this.road.sound(ms);
      this.#frame += 1;
    }
    return this;
  }

  /** Pictures that get lost; the sound goes on. */
  skip(frames: number): this {
    for (let lost = 0; lost < frames; lost += 1, this.#frame += 1)
      this.road.sound(this.startMs + (this.#frame * 1000) / this.rateFps);
    return this;
  }

  end(): this {
    this.outputs.push(...this.road.end());
    return this;
  }
}

const encoder = (rateFps: number, gop: number): Encoder => new Encoder(new PackagingRoad(), rateFps, gop);

describe('cutting', () => {
  test('parts of 720p30 are a third of a second, segments end at keyframes', () => {
    const { parts, segments } = encoder(30, 60).send(301);
    expect(parts.slice(0, 5).map((part) => part.durationSeconds.toFixed(2))).toEqual(Array(5).fill('0.33'));
    expect(segments.map((segment) => segment.durationSeconds.toFixed(1))).toEqual(Array(5).fill('2.0'));
    expect(parts.filter((part) => part.independent)).toHaveLength(5);
  });

  const targetOf = (outputs: readonly PackagerOutput[]): number => {
    const rules = outputs.flatMap((output) => (output.type === 'part-rule' ? [output.rule] : []));
    expect(rules).toHaveLength(1);
    return rules[0]!.targetSeconds;
  };
  const requireParts = ({ outputs, parts, segments }: Encoder): void => {
    const target = targetOf(outputs);
    const last = new Set(segments.map((segment) => segment.firstPart + segment.partCount - 1));
    for (const part of parts) {
      expect(part.durationSeconds).toBeLessThanOrEqual(target);
      if (!last.has(part.number)) expect(part.durationSeconds).toBeGreaterThanOrEqual(0.85 * target);
    }
  };

  test.each([3, 5, 8, 10, 11, 12.5, 14, 15, 20, 24, 25, 29.97, 30, 48, 50, 59.94, 60])(
    'every part of %d fps but a segment’s last is nearly as long as the target that was chosen for it',
    (rateFps) => {
      requireParts(encoder(rateFps, Math.round(rateFps * 2)).send(Math.round(rateFps * 20)));
    },
  );

  test('at rates of weekly use the target is 0.35 s; at others it fits the pictures', () => {
    const chosen = (rateFps: number): number => targetOf(encoder(rateFps, 100).send(50).outputs);
    expect([24, 25, 30, 50, 60].map(chosen)).toEqual(Array(5).fill(0.35));
    expect([5, 8].map(chosen)).toEqual([0.419, 0.393]);
  });

  test('a gap in the pictures is filled by lengthening the last one: no part before it is cut short', () => {
    requireParts(encoder(25, 50).send(60).skip(20).send(90).skip(45).send(200));
  });

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

  /** A picture stands for longer than a part, and the keyframe after it comes within a piece of sound. */
  const A_REST_WITHOUT_SOUND = [
    ...[70, 36, 180, 73, 140, 132, 199, 56, 39, 63, 39, 40, 10, 66, 68, 26, 142, 70, 70, 104, 97, 179, 162],
    ...[172, 152, 146, 144, 10, 46, 169, 5, 5, 5, 5, 5, 5, 5, 5, 5, 5, 5, 5, 5],
  ];

  test('nothing of the time is lost, whatever the rhythm of the pictures', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 5, max: 200 }), { minLength: 20, maxLength: 200 }),
        (stepsMs) => {
          const road = new PackagingRoad();
          let ms = 0;
          stepsMs.forEach((stepMs, index) => {
            road.picture(ms, { isKeyframe: index % 30 === 0 });
            ms += stepMs;
          });
          road.end();
          const { segments } = road;
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
      { examples: [[A_REST_WITHOUT_SOUND]] },
    );
  });
});

describe('an encoder that goes and comes back', () => {
  const road = new PackagingRoad();
  const first = new Encoder(road, 30, 60).send(100).end();
  const second = new Encoder(road, 30, 60, 90_000).send(100, 20_000).end();

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
    const early = new PackagingRoad();
    const before = new Encoder(early, 30, 60).send(90).end();
    const after = new Encoder(early, 30, 60).send(90, 0).end();
    const endMs = before.segments.at(-1)!.programmeMs + before.segments.at(-1)!.durationSeconds * 1000;
    expect(after.segments[0]!.programmeMs).toBeGreaterThanOrEqual(Math.floor(endMs));
  });

  test('its sound begins after the last sound from before, wherever that was cut', () => {
    const samples = (queue: AudioQueue, startTime: number, endMs: number) => {
      for (let time = startTime; time < 200_000; time += 1024) queue.add(soundAt(time, DATA, 48_000));
      return queue.takeBefore(endMs, true);
    };
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1023 }),
        fc.integer({ min: 50, max: 90 }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        (phase, count, pastIt) => {
          const seamMs = (phase + 1024 * count + pastIt) / 48;
          const before = samples(new AudioQueue(TRACKS.audio!, 0), phase, seamMs);
          const after = samples(new AudioQueue(TRACKS.audio!, seamMs), 0, seamMs + 100);
          expect(after[0]!.decodeTime).toBeGreaterThan(before.at(-1)!.decodeTime);
        },
      ),
    );
  });
});
