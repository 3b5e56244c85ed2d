import { describe, expect, test } from '@jest/globals';
import { dateAt, firstDateOf, offsetAt, positionAt, reachOf } from '../src/player/playlist-dates.js';

const AT_MS = Date.UTC(2026, 2, 7, 10);
const PICTURE = { relurl: 'init-0.mp4' };
const SOUND = { relurl: 'init-1.mp4' };
const fragment = (start: number, atMs: number, initSegment: { relurl: string }) => ({
  start,
  duration: 2,
  programDateTime: AT_MS + atMs,
  initSegment,
});
/** Four seconds of picture, an encoder that is away for ten, then four seconds of sound alone. */
const details = {
  fragments: [
    fragment(0, 0, PICTURE),
    fragment(2, 2000, PICTURE),
    fragment(4, 14_000, SOUND),
    fragment(6, 16_000, SOUND),
  ],
};
const at = (ms: number): Date => new Date(AT_MS + ms);

describe('the time line of a playlist', () => {
  test('has no seconds for what was never sent', () => {
    expect([0, 3500, 9000, 14_000, 17_000].map((ms) => positionAt(details, at(ms)))).toEqual([
      0, 3.5, 4, 4, 7,
    ]);
  });

  test('has a date at each place, on either side of what was never sent', () => {
    expect([0, 3.5, 4.5, 9].map((seconds) => dateAt(details, seconds))).toEqual(
      [0, 3500, 14_500, 19_000].map(at),
    );
    expect([dateAt({ fragments: [] }, 1), dateAt(null, 1)]).toEqual([null, null]);
  });

  test('begins with what has not slid out of it yet', () => {
    expect(positionAt(details, at(-60_000))).toBe(0);
    expect(positionAt({ fragments: [] }, at(0))).toBeNull();
    expect(positionAt(null, at(0))).toBeNull();
  });

  test('tells how far a date is from its beginning, however long it has been sliding', () => {
    const slid = { fragments: details.fragments.map((each) => ({ ...each, start: each.start + 1200 })) };
    expect(positionAt(slid, at(3500))).toBe(1203.5);
    expect([offsetAt(slid, at(3500)), offsetAt(details, at(3500)), offsetAt(null, at(0))]).toEqual([
      3.5,
      3.5,
      null,
    ]);
  });

  test('says how far it reaches, as long as there is something', () => {
    expect(reachOf(details)).toEqual([0, 8]);
    expect(reachOf({ fragments: [] })).toBeNull();
    expect(reachOf(null)).toBeNull();
  });

  test('tells from where on other tracks can be played', () => {
    expect(firstDateOf(details, SOUND, 1)).toEqual(at(14_300));
    expect(firstDateOf(details, SOUND, 7)).toEqual(at(17_000));
    expect(firstDateOf(details, PICTURE, 1)).toEqual(at(1000));
    expect(firstDateOf(details, PICTURE, 5)).toBeNull();
  });
});
