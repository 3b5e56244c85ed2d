import { resolve } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { jestTimes, playwrightTimes, timesTable } from '../src/test-times.js';

describe('where the time of a test run went', () => {
  test('is told by file: of Jest by beginning and end', () => {
    const file = { name: resolve('apps/media/test/srt.spec.ts'), startTime: 1000, endTime: 29_500 };
    expect(jestTimes('media', [file])).toEqual([
      { room: 'media', file: 'apps/media/test/srt.spec.ts', seconds: 28.5 },
    ]);
  });

  test('of Playwright by its tests, whatever they are nested in, each project by itself', () => {
    const tried = (projectName: string, ...durations: number[]) => ({
      title: 'a room',
      line: 1,
      tests: [{ projectName, status: 'expected', results: durations.map((duration) => ({ duration })) }],
    });
    const inner = { file: 'rooms.spec.ts', specs: [tried('desk', 500)] };
    const suite = {
      file: 'rooms.spec.ts',
      specs: [tried('desk', 1000, 2000), tried('phone', 4000)],
      suites: [inner],
    };
    expect(playwrightTimes('journeys', [suite])).toEqual([
      { room: 'journeys', file: 'rooms.spec.ts (desk)', seconds: 3.5 },
      { room: 'journeys', file: 'rooms.spec.ts (phone)', seconds: 4 },
    ]);
  });

  test('stands in a table: rooms, the whole, and the slowest thirty files', () => {
    const files = Array.from({ length: 40 }, (_, nth) => ({ room: 'core', file: `f${nth}`, seconds: nth }));
    const lines = timesTable([{ room: 'core', seconds: 16, startSeconds: 1 }], files, 20).split('\n');
    expect(lines[1]).toMatch(/^ +16 +1 +core$/);
    expect(lines[2]).toMatch(/^ +20 +altogether, on \d+ cores/);
    expect(lines.slice(5)).toHaveLength(30);
    expect(lines[5]).toMatch(/39 +core: f39$/);
  });
});
