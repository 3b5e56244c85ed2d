import { describe, expect, test } from '@jest/globals';
import { heldBack } from '../src/player/quick-pace.js';

describe('a quick picture', () => {
  test('plays on near the end of what has come', () => {
    expect(heldBack(9.9, [8, 10])).toEqual({ seekTo: null, rate: 1 });
  });

  test('that is a little late plays a little faster', () => {
    expect(heldBack(9.6, [8, 10])).toEqual({ seekTo: null, rate: 1.1 });
  });

  test('that was stopped for long, or waits for its first picture, goes to the end', () => {
    expect(heldBack(7, [3, 10]).seekTo).toBeCloseTo(9.88);
    expect(heldBack(0, [3600, 3600.5]).seekTo).toBeCloseTo(3600.38);
  });

  test('behind a hole goes on where the next stretch begins, and never before it', () => {
    expect(heldBack(9, [11, 11.05]).seekTo).toBe(11);
  });
});
