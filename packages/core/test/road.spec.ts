import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  advanceWindow,
  EMPTY_WINDOW,
  endWindow,
  hasPosition,
  windowFrom,
  windowFromSegments,
} from '../src/packaging/live-window.js';
import { CUTTING, type PackagerOutput, type Segment } from '../src/packaging/packager.js';
import { renderLivePlaylist } from '../src/packaging/playlist.js';
import { uuidFromBytes } from '../src/random-id.js';
import { PackagingRoad } from './packaging-road.js';

/** What a player reads out of a playlist, as far as it must hold together. */
interface Read {
  readonly firstSequence: number;
  readonly segments: { readonly name: string; readonly seconds: number; readonly partSeconds: number }[];
  readonly parts: number[];
  readonly hint: number | null;
}

function readPlaylist(text: string): Read {
  const segments: Read['segments'] = [];
  const parts: number[] = [];
  let [partSeconds, seconds] = [0, 0];
  let hint: number | null = null;
  for (const line of text.split('\n')) {
    const part = /^#EXT-X-PART:DURATION=([\d.]+),URI="part-(\d+)\.m4s"/.exec(line);
    if (part) {
      partSeconds += Number(part[1]);
      parts.push(Number(part[2]));
    }
    seconds = Number(/^#EXTINF:([\d.]+)/.exec(line)?.[1] ?? seconds);
    if (line.startsWith('seg-')) {
      segments.push({ name: line, seconds, partSeconds });
      partSeconds = 0;
    }
    hint = Number(/PRELOAD-HINT.*part-(\d+)/.exec(line)?.[1] ?? NaN) || hint;
  }
  return { firstSequence: Number(/MEDIA-SEQUENCE:(\d+)/.exec(text)![1]), segments, parts, hint };
}

/** Any encoder: its rhythm, its keyframes, and now and then it goes away. */
const stretch = fc.record({
  stepMs: fc.constantFrom(16, 20, 33, 40, 42, 100),
  gop: fc.integer({ min: 5, max: 200 }),
  frames: fc.integer({ min: 1, max: 250 }),
  awayMs: fc.integer({ min: 0, max: 60_000 }),
});

test('whatever an encoder does, a player that follows the playlist is never lied to', () => {
  fc.assert(
    fc.property(
      fc.array(stretch, { minLength: 1, maxLength: 4 }),
      fc.constantFrom(0, 10_000, 600_000),
      (stretches, rewindMs) => {
        const road = new PackagingRoad();
        let window = EMPTY_WINDOW;
        let programmeMs = 1000;
        let promised: number | null = null;
        let lastSequence = -1;
        let lastFirst = 0;
        const take = (outputs: readonly PackagerOutput[]): void => {
          for (const output of outputs) {
            if (output.type === 'part' && promised !== null) expect(output.part.number).toBe(promised);
            window = advanceWindow(window, output, rewindMs);
            promised = window.nextPart;
            const read = readPlaylist(renderLivePlaylist(window, { startsAtUtcMs: 0 }));
            expect(read.firstSequence).toBeGreaterThanOrEqual(lastFirst);
            lastFirst = read.firstSequence;
            read.segments.forEach((segment, index) => {
              expect(segment.name).toBe(`seg-${read.firstSequence + index}.m4s`);
              expect(Math.round(segment.seconds)).toBeLessThanOrEqual(CUTTING.targetDurationSeconds);
              if (segment.partSeconds > 0) expect(segment.partSeconds).toBeCloseTo(segment.seconds, 3);
            });
            expect([...read.parts].sort((a, b) => a - b)).toEqual(read.parts);
            const last = window.segments.at(-1)?.segment.sequence ?? -1;
            expect(last).toBeGreaterThanOrEqual(lastSequence);
            lastSequence = last;
            if (last >= 0) expect(hasPosition(window, last, null)).toBe(true);
          }
        };
        for (const { stepMs, gop, frames, awayMs } of stretches) {
          for (let frame = 0; frame < frames; frame += 1) {
            take(road.picture(frame * stepMs, { isKeyframe: frame % gop === 0, atMs: programmeMs }));
          }
          take(road.end());
          programmeMs += frames * stepMs + awayMs;
        }
        expect(renderLivePlaylist(endWindow(window), { startsAtUtcMs: 0 })).toContain('#EXT-X-ENDLIST');
      },
    ),
    { numRuns: 60 },
  );
});

test('a window made again from what is on disk shows the same segments', () => {
  const segments: Segment[] = Array.from({ length: 30 }, (_, sequence) => ({
    sequence,
    programmeMs: sequence * 2000,
    durationSeconds: 2,
    initNumber: 0,
    discontinuity: sequence === 4,
    firstPart: sequence * 6,
    partCount: 6,
  }));
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 80_000 }),
      fc.integer({ min: 0, max: 60_000 }),
      (rewindMs, fromMs) => {
        const window = windowFromSegments(segments, rewindMs);
        const first = window.segments[0]!.segment.sequence;
        expect(window.segments.map(({ segment }) => segment.sequence)).toEqual(
          Array.from({ length: 30 - first }, (_, index) => first + index),
        );
        expect((30 - first) * 2000).toBeGreaterThanOrEqual(Math.min(60_000, rewindMs));
        expect(window.droppedDiscontinuities).toBe(first > 4 ? 1 : 0);
        const shown = windowFrom(window, fromMs).segments;
        for (const { segment } of shown) expect(segment.programmeMs + 2000).toBeGreaterThan(fromMs);
      },
    ),
  );
});

test('an identifier made of random bytes is a UUID of version 4', () => {
  fc.assert(
    fc.property(fc.uint8Array({ minLength: 16, maxLength: 16 }), (bytes) => {
      expect(uuidFromBytes(bytes)).toMatch(
        /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/,
      );
    }),
  );
});
