import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FlvSource, type SourceSignal } from '../src/ingest/flv-source.js';
import { configBodies, frameBody, stampMs } from '../src/ingest/flv-writer.js';
import {
  compositionOffsetMs,
  decodeMs,
  type Frame,
  isPicture,
  pictureAt,
  soundAt,
} from '../src/media/frame.js';
import { aacTrack } from '../src/media/silence.js';
import { STILL_TRACK } from '../src/media/still-picture.js';

const TRACKS = { video: STILL_TRACK, audio: aacTrack({ sampleRateHz: 48_000, channels: 2 })! };

/** What a reader makes of what the writer wrote. */
function readBack(frames: readonly Frame[]): SourceSignal[] {
  const source = new FlvSource();
  const configs = configBodies(TRACKS).map((one) => source.read({ ...one, timestampMs: 0 }));
  const read = frames.map((frame) => source.read({ ...frameBody(frame), timestampMs: stampMs(frame, 0) }));
  return [...configs, ...read].filter((signal) => signal !== null);
}

describe('FLV, as a border of frames and tracks', () => {
  const data = fc.uint8Array({ minLength: 1, maxLength: 30 });
  const picture = fc
    .record({
      ms: fc.nat(100_000),
      offsetMs: fc.integer({ min: -2000, max: 2000 }),
      isKeyframe: fc.boolean(),
      data,
    })
    .map(({ ms, ...rest }) => pictureAt(ms, rest));
  const sound = fc.record({ ms: fc.nat(100_000), data }).map(({ ms, data: bytes }) => soundAt(ms, bytes));

  test('gives back every frame that was written, with its times', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(picture, sound), { maxLength: 40 }), (frames) => {
        const read = readBack(frames).flatMap((signal) => (signal.type === 'frame' ? [signal.frame] : []));
        const facts = (frame: Frame) => [
          isPicture(frame),
          decodeMs(frame),
          compositionOffsetMs(frame),
          frame.isKeyframe,
          [...frame.data],
        ];
        expect(read.map(facts)).toEqual(frames.map(facts));
      }),
    );
  });

  test('gives back the tracks, each once, however often an encoder says them', () => {
    const source = new FlvSource();
    const said = [...configBodies(TRACKS), ...configBodies(TRACKS)].map((one) =>
      source.read({ ...one, timestampMs: 0 }),
    );
    expect(said.map((signal) => signal?.type ?? null)).toEqual([
      'video-configured',
      'audio-configured',
      null,
      null,
    ]);
    expect(said[0]).toMatchObject({ track: { widthPx: 1280, heightPx: 720 } });
    expect(said[1]).toMatchObject({ track: { sampleRateHz: 48_000, channels: 2 } });
  });

  test('rounds to whole ms, and never below zero', () => {
    const frame = soundAt(48_000 * 3 + 7, Uint8Array.of(1), 48_000);
    expect([stampMs(frame, 0), stampMs(frame, 1000), stampMs(frame, 9000)]).toEqual([3000, 2000, 0]);
  });
});

describe('what an encoder announces', () => {
  const announced = (metadata: Parameters<FlvSource['announce']>[0]) => {
    const signal = new FlvSource().announce(metadata);
    return signal.type === 'announced' ? signal.announcement : null;
  };

  test('is picture and sound, and of what kind the sound will be', () => {
    expect(
      announced({
        encoder: 'Box 3',
        width: 1280,
        framerate: 29.97,
        audiocodecid: 10,
        audiosamplerate: 44_100,
        stereo: false,
      }),
    ).toEqual({
      encoder: 'Box 3',
      video: true,
      audio: true,
      sound: { sampleRateHz: 44_100, channels: 1 },
      frameRateFps: 29.97,
    });
  });

  test('may be nothing', () => {
    const nothing = { encoder: null, video: false, audio: false, sound: null, frameRateFps: null };
    expect(announced({})).toEqual(nothing);
    // A rate that no encoder has.
    expect(announced({ framerate: 1000 })).toEqual(nothing);
  });
});
