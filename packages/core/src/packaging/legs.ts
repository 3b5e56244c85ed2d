import type { PackagerStart, Segment } from './packager.js';

/**
 * A leg is what one media node packaged of a programme before it went on at another. Each counts from a number of its
 * own, so that its files can lie beside those of the others: a leg of a hundred days would be too long.
 */
const NUMBERS_OF_A_LEG = 1_000_000;

/** Where a leg begins to count, on top of what its folder may hold of an earlier one. */
export function startOfLeg<T extends PackagerStart>(leg: number, after: T): T {
  const first = leg * NUMBERS_OF_A_LEG;
  return {
    ...after,
    nextSequence: Math.max(first, after.nextSequence),
    nextPart: Math.max(first, after.nextPart),
    nextInit: Math.max(first, after.nextInit),
  };
}

/**
 * What another node has of a programme and this one lacks: segments that overlap none of our own and stand among them in
 * order of number as well as of time. Where two nodes had a picture at once, ours is kept.
 * @param own - in order, as `others`
 */
export function segmentsToJoin<T extends Segment>(own: readonly T[], others: readonly T[]): T[] {
  let next = 0;
  return others.filter((other) => {
    while (next < own.length && own[next]!.sequence < other.sequence) next += 1;
    const [before, after] = [own[next - 1], own[next]];
    return (!before || isBefore(before, other)) && (!after || isBefore(other, after));
  });
}

/** All that is there, in the order it is played; numbers rise. */
export const inOrder = <T extends Segment>(segments: readonly T[]): T[] =>
  segments.toSorted((a, b) => a.sequence - b.sequence);

/** The segments of a leg and later: in a live playlist numbers must follow one another (RFC 8216, 4.4.3.2). */
export const sinceLeg = <T extends Segment>(segments: readonly T[], leg: number): T[] =>
  segments.filter(({ sequence }) => sequence >= leg * NUMBERS_OF_A_LEG);

/** Clocks of two machines agree to within this. */
const SLACK_MS = 50;

const isBefore = (a: Segment, b: Segment): boolean =>
  a.sequence < b.sequence && a.programmeMs + a.durationSeconds * 1000 <= b.programmeMs + SLACK_MS;
