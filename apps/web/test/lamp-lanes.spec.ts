import { describe, expect, test } from '@jest/globals';
import { placeLampLanes } from '../src/console/frame/lamp-lanes.js';

const lanes = (...bars: readonly [number, number, 'air'?][]) =>
  placeLampLanes(bars.map(([fromHour, toHour, air]) => ({ fromHour, toHour, isOnAir: air === 'air' })));

describe('the events on the strip of today', () => {
  test('stand in one line while one follows another', () => {
    expect(lanes([9, 10], [10, 11], [15, 16])).toEqual([0, 0, 0]);
  });

  test('stand under one another where they go on at once, so that each can be pressed', () => {
    expect(lanes([10.5, 11.5], [10.75, 12], [12, 13])).toEqual([0, 1, 0]);
  });

  test('are far enough apart for the shortest, which is drawn longer than it is', () => {
    expect(lanes([10, 10.1], [10.3, 11])).toEqual([0, 1]);
  });

  test('are left to the week where a third goes on, but never what is on air', () => {
    expect(lanes([9, 12], [10, 12], [11, 12])).toEqual([0, 1, null]);
    expect(lanes([9, 12], [10, 12], [11, 12, 'air'])).toEqual([1, null, 0]);
  });
});
