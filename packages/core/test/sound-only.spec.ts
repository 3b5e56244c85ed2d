import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { concatBytes } from '../src/bytes.js';
import { type Sample, writeFragment } from '../src/packaging/fragment.js';
import { TRACK_ID, type Tracks } from '../src/media/track.js';
import { writeInitSegment } from '../src/packaging/init-segment.js';
import { readCodecs } from '../src/packaging/read-codecs.js';
import { readInitTracks } from '../src/packaging/read-boxes.js';
import { soundInitOf, soundOf } from '../src/packaging/sound-only.js';

const video = { config: Uint8Array.of(1, 100, 0, 31), widthPx: 1280, heightPx: 720, codec: 'avc1.64001f' };
const audio = { config: Uint8Array.of(0x11, 0x90), sampleRateHz: 48_000, channels: 2, codec: 'mp4a.40.2' };

/** Samples one after another from some time on. */
const samples = (isVideo: boolean): fc.Arbitrary<Sample[]> =>
  fc
    .tuple(fc.nat(10_000_000), fc.array(fc.uint8Array({ maxLength: 40 }), { minLength: 1, maxLength: 12 }))
    .map(([startsAt, chunks]) =>
      chunks.map((data, index) => ({
        decodeTime: startsAt + index * 1024,
        duration: 1024,
        compositionOffset: isVideo ? 512 : 0,
        isKeyframe: !isVideo || index === 0,
        data,
      })),
    );

describe('the sound of a programme alone', () => {
  test('is, part for part, what a packager without the picture would have written', () => {
    const parts = fc.array(fc.tuple(samples(true), samples(false)), { minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(parts, (both) => {
        const write = (withPicture: boolean): Uint8Array =>
          concatBytes(
            both.map(([pictures, sound], index) =>
              writeFragment({ sequence: index + 7, video: withPicture ? pictures : [], audio: sound }),
            ),
          );
        expect(soundOf(write(true))).toEqual(write(false));
      }),
    );
  });

  test('has a header of its own', () => {
    const of = (tracks: Tracks): Uint8Array => writeInitSegment(tracks);
    expect(soundInitOf(of({ video, audio }))).toEqual(of({ video: null, audio }));
    expect(readInitTracks(of({ video: null, audio })).map(({ trackId }) => trackId)).toEqual([
      TRACK_ID.audio,
    ]);
  });

  test('a header says what its tracks are', () => {
    const config = Uint8Array.from(
      Buffer.from('0164001fffe1001a6764001facd9405005bb016a02020280000003008000001e478c1924', 'hex'),
    );
    const init = writeInitSegment({ video: { ...video, config }, audio });
    expect(readCodecs(init)).toEqual({
      video: { widthPx: 1280, heightPx: 720, codec: 'avc1.64001f' },
      audio: { sampleRateHz: 48_000, channels: 2, codec: 'mp4a.40.2' },
    });
    expect(readCodecs(soundInitOf(init)!).video).toBeNull();
  });

  test('there is none where the encoder sent none', () => {
    expect(soundInitOf(writeInitSegment({ video, audio: null }))).toBeNull();
  });
});
