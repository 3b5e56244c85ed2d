import { expect, test } from '@jest/globals';
import { TakenRate } from '../src/destinations/taken-rate.js';

test('the rate of what a place takes is that of the last seconds, and starts again with a new connection', () => {
  const rate = new TakenRate();
  expect(rate.of(0, 0)).toBe(0);
  let bytes = 0;
  for (let second = 1; second <= 10; second += 1) rate.of((bytes += 500_000), second * 1000);
  expect(rate.of((bytes += 500_000), 11_000)).toBe(4_000_000);
  // The line has become narrow.
  for (let second = 12; second <= 20; second += 1) rate.of((bytes += 50_000), second * 1000);
  expect(rate.of((bytes += 50_000), 21_000)).toBe(400_000);
  expect(rate.of(1000, 22_000)).toBe(0);
  expect(rate.of(251_000, 24_000)).toBe(1_000_000);
});
