import { describe, expect, test } from '@jest/globals';
import {
  afterFailure,
  among,
  mayTry,
  NO_TROUBLES,
  pauseAfter,
  type Troubles,
  without,
} from '../src/control/retry.js';

describe('what failed is tried again', () => {
  const failed = (times: number): Troubles => {
    let troubles = NO_TROUBLES;
    for (let time = 0; time < times; time += 1) troubles = afterFailure(troubles, 'a', 0);
    return troubles;
  };

  test('after pauses that grow to half a minute', () => {
    expect([1, 2, 3, 4, 5, 6, 20].map(pauseAfter)).toEqual([1000, 2000, 4000, 8000, 16_000, 30_000, 30_000]);
    expect([mayTry(failed(3), 'a', 3999), mayTry(failed(3), 'a', 4000)]).toEqual([false, true]);
  });

  test('while it holds up nothing else', () => {
    expect(mayTry(failed(5), 'b', 0)).toBe(true);
  });

  test('and is forgotten once nobody asks for it', () => {
    const both = afterFailure(failed(5), 'b', 0);
    expect([...among(both, new Set(['b'])).keys()]).toEqual(['b']);
  });

  test('at once, after it has been done in between', () => {
    const done = without(failed(5), 'a');
    expect(mayTry(done, 'a', 0)).toBe(true);
    expect(mayTry(afterFailure(done, 'a', 0), 'a', 1000)).toBe(true);
  });
});
