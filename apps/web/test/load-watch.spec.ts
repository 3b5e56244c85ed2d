import { expect, test } from '@jest/globals';
import { hasLostItsWay } from '../src/player/load-watch.js';

test('loading that rests though more is listed has lost its way, once what is left is nearly played', () => {
  const lost = { restingMs: 800, bufferedSeconds: 0.3, listedSeconds: 1.5 };
  expect(hasLostItsWay(lost)).toBe(true);
  // Something is loading, however slowly; there is time; nothing more is listed: the encoder is away.
  expect(hasLostItsWay({ ...lost, restingMs: 0 })).toBe(false);
  expect(hasLostItsWay({ ...lost, bufferedSeconds: 1 })).toBe(false);
  expect(hasLostItsWay({ ...lost, listedSeconds: 0.6 })).toBe(false);
});
