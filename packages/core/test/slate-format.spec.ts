import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { pictureAt } from '../src/media/frame.js';
import { SlateFormatWatch, slateShapeOf } from '../src/media/slate-format.js';
import { TRACKS } from './packaging-road.js';

const DATA = Uint8Array.of(1);

/** Shows a picture of a rate for some time. @returns how often the format became another */
function show(watch: SlateFormatWatch, rateFps: number, seconds: number, video = TRACKS.video!): number {
  watch.configure({ video, audio: TRACKS.audio! });
  let changes = 0;
  for (let nth = 0; nth < rateFps * seconds; nth += 1)
    if (watch.frame(pictureAt((nth * 1000) / rateFps, { offsetMs: 0, isKeyframe: nth === 0, data: DATA })))
      changes += 1;
  return changes;
}

test('the slate’s format is learnt from a second of the picture, and said to be another once', () => {
  fc.assert(
    fc.property(fc.integer({ min: 10, max: 60 }), (rateFps) => {
      const watch = new SlateFormatWatch();
      expect([show(watch, rateFps, 0.9), watch.format]).toEqual([0, null]);
      expect(show(watch, rateFps, 3)).toBe(1);
      expect(watch.format!.rateFps).toBe(rateFps);
      expect(show(watch, rateFps, 3)).toBe(0);
    }),
  );
});

test('a rate that no slate needs is brought within bounds, and an odd size to an even one', () => {
  const watch = new SlateFormatWatch();
  show(watch, 120, 2, { ...TRACKS.video!, widthPx: 853, heightPx: 480 });
  expect(watch.format).toEqual({ widthPx: 852, heightPx: 480, rateFps: 60 });
  show(watch, 1, 3);
  expect(watch.format!.rateFps).toBe(10);
});

test('a picture gets the still that is nearest to its shape', () => {
  const shapes = [
    [1920, 1080],
    [640, 480],
    [1080, 1080],
    [1080, 1920],
  ].map(([widthPx, heightPx]) => slateShapeOf({ widthPx: widthPx!, heightPx: heightPx! }));
  expect(shapes).toEqual(['wide', 'wide', 'square', 'tall']);
});
