import { describe, expect, test } from '@jest/globals';
import { placeLampNames } from '../src/console/frame/lamp-name.js';

const RULER = { fromHour: 6, toHour: 24 };
const sides = (...bars: readonly [number, number][]) =>
  placeLampNames(
    bars.map(([fromHour, toHour]) => ({ fromHour, toHour })),
    RULER,
  ).map((place) => place?.side ?? null);

describe('the names on the strip of today', () => {
  test('stand inside a long bar and after a short one', () => {
    expect(sides([7, 10.5], [15, 16])).toEqual(['inside', 'after']);
  });

  test('stand before a bar that begins too late in the evening to have room after it', () => {
    expect(sides([21.5, 24])).toEqual(['before']);
    expect(sides([7, 12], [21.5, 24])).toEqual(['inside', 'before']);
  });

  test('are left out where another event goes on at the same time', () => {
    expect(sides([15, 21], [15.25, 16.25])).toEqual(['inside', null]);
    expect(sides([9, 11], [9.5, 10])).toEqual(['after', null]);
  });

  test('are left out where neighbours leave no room, or where another name stands already', () => {
    expect(sides([9, 10], [11, 12])).toEqual(['before', 'after']);
    expect(sides([20, 21], [22.5, 24])).toEqual(['after', null]);
    expect(sides([6, 7], [8, 9], [10, 11])).toEqual([null, null, 'after']);
  });
});
