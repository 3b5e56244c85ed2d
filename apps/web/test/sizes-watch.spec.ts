import { expect, test } from '@jest/globals';
import { renderMultivariantPlaylist } from '@heliphon/core/packaging/playlist';
import { sizesIn } from '../src/player/sizes-watch.js';

test('sizes of the picture are counted, and its sound alone is none', () => {
  const form = { bandwidthBps: 1, averageBandwidthBps: 1, codecs: 'x' };
  const picture = { widthPx: 2, heightPx: 2, frameRateFps: null };
  const playlist = renderMultivariantPlaylist(
    [
      { ...form, folder: '', picture },
      { ...form, folder: 'r/480p/', picture },
      { ...form, folder: 'sound/', picture: null },
    ],
    'live.m3u8',
  );
  expect(sizesIn(playlist)).toBe(2);
  expect(sizesIn('')).toBe(0);
});
