import { describe, expect, test } from '@jest/globals';
import { pictureAt, soundAt } from '../src/media/frame.js';
import { admit, nextInput, NO_INPUT, playsFilm } from '../src/media/programme-input.js';

const picture = (isKeyframe: boolean) => pictureAt(0, { offsetMs: 0, isKeyframe, data: Uint8Array.of(1) });
const sound = soundAt(0, Uint8Array.of(2));
const playing = nextInput(nextInput(NO_INPUT, { type: 'source-chosen', sourceId: 'pier' }), {
  type: 'film-began',
  fileId: 'harbour',
  endsAtMs: 60_000,
});

describe('what feeds a programme', () => {
  test('is its source, from whatever frame on, where no film plays', () => {
    expect([picture(true), picture(false), sound].map((frame) => admit(NO_INPUT, frame, 0))).toEqual([
      'take',
      'take',
      'take',
    ]);
  });

  test('is the film while it plays; the source waits', () => {
    expect(playsFilm(playing)).toBe(true);
    expect([picture(true), sound].map((frame) => admit(playing, frame, 58_999))).toEqual([
      'pass-over',
      'pass-over',
    ]);
  });

  test('is the source’s keyframe again once the film is as good as over, but no other frame', () => {
    expect(admit(playing, picture(true), 59_000)).toBe('hand-over');
    expect([picture(false), sound].map((frame) => admit(playing, frame, 61_000))).toEqual([
      'pass-over',
      'pass-over',
    ]);
  });

  test('is the source after the film, which is not begun again', () => {
    const after = nextInput(playing, { type: 'film-over' });
    expect(after).toEqual({
      sourceId: 'pier',
      film: { fileId: 'harbour', state: 'over' },
      filmEndsAtMs: null,
    });
    expect(admit(after, picture(false), 0)).toBe('take');
  });
});

describe('a node that fell', () => {
  test('finds the film that played broken off, and one that was over still over', () => {
    const stateOf = (state: 'playing' | 'over' | 'broken-off') =>
      nextInput(NO_INPUT, { type: 'taken-up', film: { fileId: 'harbour', state } }).film?.state;
    expect([stateOf('playing'), stateOf('over'), stateOf('broken-off')]).toEqual([
      'broken-off',
      'over',
      'broken-off',
    ]);
    expect(nextInput(NO_INPUT, { type: 'taken-up', film: null }).film).toBeNull();
  });
});
