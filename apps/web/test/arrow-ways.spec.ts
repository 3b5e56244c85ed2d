import { describe, expect, test } from '@jest/globals';
import { lookedAt } from '../src/player/minute-picture.js';
import { nextPlace, type Place } from '../src/public/arrow-ways.js';

const at = (left: number, top: number, width = 80, height = 40): Place => ({
  left,
  top,
  right: left + width,
  bottom: top + height,
});

describe('arrow keys lead from one thing to the next', () => {
  const scrubber = at(0, 0, 600, 34);
  const [play, back, sound, fill] = [at(0, 50), at(90, 50, 120), at(400, 50), at(490, 50, 110)];
  const help = at(450, 140, 150);
  const all = [scrubber, play, back, sound, fill, help];
  const name = ['scrubber', 'play', 'back', 'sound', 'fill', 'help'];
  const next = (from: Place, key: Parameters<typeof nextPlace>[2]): string | undefined => {
    const others = all.filter((place) => place !== from);
    return name[all.indexOf(others[nextPlace(from, others, key)]!)];
  };

  test.each([
    [play, 'ArrowRight', 'back'],
    [back, 'ArrowRight', 'sound'],
    [fill, 'ArrowLeft', 'sound'],
    [fill, 'ArrowUp', 'scrubber'],
    [scrubber, 'ArrowDown', 'play'],
    [fill, 'ArrowDown', 'help'],
    [play, 'ArrowDown', 'help'],
    [help, 'ArrowDown', undefined],
    [scrubber, 'ArrowUp', undefined],
  ] as const)('from %o by %s', (from, key, to) => expect(next(from, key)).toBe(to));

  test('what is at one height counts before what lies aside', () => {
    const row = [at(300, 0), at(100, 60)];
    expect(nextPlace(at(0, 0), row, 'ArrowRight')).toBe(0);
  });
});

test('the small picture of a moment lies beside its playlist, under its minute of the clock', () => {
  const dateMs = Date.UTC(2026, 2, 8, 10, 31, 59);
  expect(lookedAt('https://m/p/x/y/live.m3u8', dateMs)).toEqual({
    dateMs,
    minute: dateMs / 60_000 - 59 / 60,
    picture: `https://m/p/x/y/picture-${Math.floor(dateMs / 60_000)}.jpg`,
  });
});
