import { describe, expect, test } from '@jest/globals';
import { isStuck, type PlayerSigns, type Standstill, standstill } from '../src/player/standstill.js';

const PLAYING: PlayerSigns = {
  nowMs: 0,
  positionSeconds: 60,
  isMeantToPlay: true,
  bufferedUntilSeconds: 70,
  listedUntilSeconds: 72,
  receivedBytes: 0,
};
/** Whether a player that shows these signs for so long, looked at four times a second, is stuck at the end. */
const stuckAfter = (seconds: number, signs: (atSeconds: number) => Partial<PlayerSigns>): boolean => {
  let is: Standstill | null = null;
  for (let nowMs = 0; nowMs <= seconds * 1000; nowMs += 250)
    is = standstill(is, { ...PLAYING, ...signs(nowMs / 1000), nowMs });
  return isStuck(is!, seconds * 1000);
};

describe('a picture is stuck', () => {
  test('that has something to play and has not moved for eight seconds', () => {
    expect(stuckAfter(7.5, () => ({}))).toBe(false);
    expect(stuckAfter(8, () => ({}))).toBe(true);
  });

  test('that has moved since, once it has stood again', () => {
    expect(stuckAfter(12, (at) => ({ positionSeconds: 60 + Math.min(at, 5) }))).toBe(false);
    expect(stuckAfter(13.5, (at) => ({ positionSeconds: 60 + Math.min(at, 5) }))).toBe(true);
  });

  test('whatever else is being loaded meanwhile', () => {
    expect(stuckAfter(8, (at) => ({ receivedBytes: at * 1000 }))).toBe(true);
  });

  test('that has nothing left, while the playlist goes on and nothing is loaded', () => {
    expect(stuckAfter(8, (at) => ({ bufferedUntilSeconds: 60, listedUntilSeconds: 72 + at }))).toBe(true);
  });
});

describe('a picture is not stuck', () => {
  test.each<[string, (atSeconds: number) => Partial<PlayerSigns>]>([
    ['that moves', (at) => ({ positionSeconds: 60 + at })],
    ['that is paused', () => ({ isMeantToPlay: false })],
    ['whose encoder is away', () => ({ bufferedUntilSeconds: 60.5, listedUntilSeconds: 60.5 })],
    ['on a slow line', (at) => ({ bufferedUntilSeconds: 60, receivedBytes: at * 1000 })],
  ])('%s', (_name, signs) => expect(stuckAfter(60, signs)).toBe(false));
});
