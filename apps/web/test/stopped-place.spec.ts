import { beforeEach, expect, test } from '@jest/globals';
import { keepStopped, readStopped } from '../src/public/stopped-place.js';

const HOUR_MS = 3_600_000;
let kept: Map<string, string>;
beforeEach(() => {
  kept = new Map();
  globalThis.localStorage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  } as Storage;
});

test('a place on the way is remembered, each replay by itself', () => {
  keepStopped('evensong', 600_000, HOUR_MS);
  keepStopped('quiz', 1_200_000, HOUR_MS);
  expect([readStopped('evensong'), readStopped('quiz'), readStopped('peal')]).toEqual([
    600_000,
    1_200_000,
    null,
  ]);
});

test('coming again does not wipe it out; having seen the end does', () => {
  keepStopped('evensong', 600_000, HOUR_MS);
  keepStopped('evensong', 5000, HOUR_MS);
  expect(readStopped('evensong')).toBe(600_000);
  keepStopped('evensong', HOUR_MS - 30_000, HOUR_MS);
  expect(readStopped('evensong')).toBeNull();
});

test('of a film of two minutes the edges are narrower', () => {
  keepStopped('clip', 20_000, 120_000);
  expect(readStopped('clip')).toBe(20_000);
});

test('the latest fifty are remembered', () => {
  for (let nth = 0; nth < 51; nth += 1) keepStopped(`replay ${nth}`, 600_000, HOUR_MS);
  expect([readStopped('replay 0'), readStopped('replay 1')]).toEqual([null, 600_000]);
});

test('what somebody else left under the name, or a closed storage, does no harm', () => {
  for (const odd of ['null', '[]', '{"evensong":"x"}', 'no JSON', '7']) {
    kept.set('heliphon.stopped', odd);
    expect(readStopped('evensong')).toBeNull();
    keepStopped('evensong', 600_000, HOUR_MS);
    expect(readStopped('evensong')).toBe(600_000);
  }
  globalThis.localStorage = {
    getItem: () => {
      throw new Error('shut');
    },
    setItem: () => {
      throw new Error('shut');
    },
  } as never;
  expect(readStopped('evensong')).toBeNull();
  expect(() => keepStopped('evensong', 600_000, HOUR_MS)).not.toThrow();
});
