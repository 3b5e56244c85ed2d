import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { inOrder, segmentsToJoin, sinceLeg, startOfLeg } from '../src/packaging/legs.js';
import { PROGRAMME_BEGINNING, type Segment } from '../src/packaging/packager.js';

const segment = (sequence: number, programmeMs: number, durationSeconds = 2): Segment => ({
  sequence,
  programmeMs,
  durationSeconds,
  initNumber: 0,
  discontinuity: false,
  firstPart: sequence * 6,
  partCount: 6,
});
/** So many segments of 2 s, numbered from `sequence` on, from `programmeMs` on. */
const stretch = (sequence: number, programmeMs: number, count: number): Segment[] =>
  Array.from({ length: count }, (_, index) => segment(sequence + index, programmeMs + index * 2000));
const numbers = (segments: readonly Segment[]): number[] => segments.map(({ sequence }) => sequence);

describe('the numbers of a leg', () => {
  test('begin where no other leg can have come', () => {
    expect(startOfLeg(2, PROGRAMME_BEGINNING)).toEqual({
      nextSequence: 2_000_000,
      nextPart: 2_000_000,
      nextInit: 2_000_000,
      partRule: null,
    });
  });
  test('go on after what the folder holds of the same leg, which a crash cut off', () => {
    const after = {
      nextSequence: 1_000_007,
      nextPart: 1_000_140,
      nextInit: 1_000_001,
      partRule: null,
    };
    expect(startOfLeg(1, after)).toEqual(after);
  });
});

describe('putting the legs of a recording together', () => {
  const first = stretch(0, 0, 5);
  const second = stretch(1_000_000, 14_000, 5);

  test('what another node had before us is all taken, in front of ours', () => {
    expect(segmentsToJoin(second, first)).toEqual(first);
    expect(numbers(inOrder([...second, ...first]))).toEqual([...numbers(first), ...numbers(second)]);
  });
  test('what it had between two of our own stretches goes between them', () => {
    const own = [...first, ...stretch(2_000_000, 30_000, 3)];
    expect(segmentsToJoin(own, second)).toEqual(second);
  });
  test('where both had a picture ours is kept', () => {
    const late = stretch(0, 8000, 5); // until 18 s, while ours began at 14 s
    expect(numbers(segmentsToJoin(second, late))).toEqual([0, 1, 2]);
  });
  test('clocks of two machines that differ by a frame cost no segment', () => {
    const touching = [segment(0, 12_030)];
    expect(segmentsToJoin(second, touching)).toEqual(touching);
  });
  test('what it went on with after us would stand in the wrong order and stays where it is', () => {
    expect(segmentsToJoin(second, [segment(3, 60_000)])).toEqual([]);
  });
  test('fetched twice, nothing is there twice', () => {
    const whole = inOrder([...second, ...segmentsToJoin(second, first)]);
    expect(segmentsToJoin(whole, first)).toEqual([]);
  });

  const stretches = fc.array(
    fc.record({ gapMs: fc.integer({ min: -5000, max: 9000 }), count: fc.integer({ min: 1, max: 4 }) }),
    { minLength: 1, maxLength: 6 },
  );
  test('whatever two nodes have, the whole rises in number and in time', () => {
    fc.assert(
      fc.property(stretches, (legs) => {
        let atMs = 0;
        const made = legs.map(({ gapMs, count }, leg) => {
          atMs = Math.max(0, atMs + gapMs);
          const segments = stretch(leg * 1_000_000, atMs, count);
          atMs += count * 2000;
          return segments;
        });
        // Two nodes in turn; each of them runs forward in time, as a node does.
        const forward = (segments: Segment[]): Segment[] =>
          segments.filter((one, index) => index === 0 || segments[index - 1]!.programmeMs < one.programmeMs);
        const own = forward(made.filter((_, leg) => leg % 2 === 0).flat());
        const others = forward(made.filter((_, leg) => leg % 2 === 1).flat());
        const whole = inOrder([...own, ...segmentsToJoin(own, others)]);
        expect(numbers(whole)).toEqual(expect.arrayContaining(numbers(own)));
        const joined = whole.filter((one) => others.includes(one));
        for (const one of joined) {
          const at = whole.indexOf(one);
          for (const neighbour of [whole[at - 1], whole[at + 1]]) {
            if (!neighbour || !own.includes(neighbour)) continue;
            expect(Math.sign(neighbour.programmeMs - one.programmeMs)).toBe(
              Math.sign(neighbour.sequence - one.sequence),
            );
          }
        }
      }),
    );
  });
});

describe('a live playlist after a programme has moved', () => {
  const all = [...stretch(0, 0, 5), ...stretch(2_000_000, 30_000, 3)];
  test('lists only what was packaged since, whose numbers follow one another', () => {
    expect(numbers(sinceLeg(all, 2))).toEqual([2_000_000, 2_000_001, 2_000_002]);
    expect(sinceLeg(stretch(0, 0, 5), 2)).toEqual([]);
  });
  test('and everything where it never moved', () => {
    expect(sinceLeg(stretch(4, 0, 6), 0)).toHaveLength(6);
  });
});
