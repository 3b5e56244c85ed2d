import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FILE_LIMITS, promisedKind, refusalBefore } from '../src/files/file-kinds.js';
import { LARGEST_PX, type MediaFacts, planFilm, type VideoFacts } from '../src/files/film-plan.js';
import { progressPercent } from '../src/files/making-progress.js';
import { readMediaFacts } from '../src/files/media-facts.js';

const video: VideoFacts = {
  codec: 'h264',
  profile: 'High',
  pixelFormat: 'yuv420p',
  widthPx: 1280,
  heightPx: 720,
  frameRateFps: 30,
  turnedDegrees: 0,
  isInterlaced: false,
  longestKeyframeGapMs: 2000,
  bitrateBps: 2_500_000,
};
const audio = { codec: 'aac', profile: 'LC', channels: 2, sampleRateHz: 48_000 };
const film: MediaFacts = { durationMs: 60_000, video, audio };
const planOf = (change: Partial<VideoFacts>) => {
  const plan = planFilm({ ...film, video: { ...video, ...change } });
  if (!plan.ok || plan.value.kind !== 'film') throw new Error('no film');
  return plan.value;
};

describe('what a name promises', () => {
  test.each([
    ['Poster.JPG', 'picture'],
    ['bells before the service.mp4', 'film'],
    ['organ.flac', 'sound'],
    ['notes.txt', null],
    ['mp4', null],
  ])('%s', (name, kind) => expect(promisedKind(name)).toBe(kind));

  test('is measured before anything is sent; what promises nothing, as generously as a film', () => {
    expect(refusalBefore('poster.jpg', FILE_LIMITS.bytes.picture + 1)).toEqual({
      code: 'file-too-large',
      mostBytes: FILE_LIMITS.bytes.picture,
    });
    expect(refusalBefore('poster', FILE_LIMITS.bytes.picture + 1)).toBeNull();
    expect(refusalBefore('organ.wav', 0)?.code).toBe('file-empty');
  });
});

describe('what is done with a film', () => {
  test('that every player takes: nothing', () => {
    expect(planFilm(film)).toEqual({
      ok: true,
      value: {
        kind: 'film',
        durationMs: 60_000,
        widthPx: 1280,
        heightPx: 720,
        frameRateFps: 30,
        changes: [],
        sound: 'copy',
      },
    });
  });

  test.each([
    ['codec', { codec: 'hevc', profile: 'Main' }],
    ['codec', { profile: 'High 4:2:2' }],
    ['colours', { pixelFormat: 'yuv420p10le' }],
    ['too-large', { widthPx: 3840, heightPx: 2160 }],
    ['too-large', { widthPx: 1279 }],
    ['too-fast', { frameRateFps: 120 }],
    ['turned', { turnedDegrees: 90 }],
    ['interlaced', { isInterlaced: true }],
    ['keyframes', { longestKeyframeGapMs: 10_000 }],
    ['too-rich', { bitrateBps: 50_000_000 }],
  ] as const)('its picture is re-encoded because of: %s', (change, facts) =>
    expect(planOf(facts).changes).toEqual([change]),
  );

  test('its sound is encoded by itself, or left out where there is none', () => {
    const soundOf = (heard: MediaFacts['audio']) => {
      const plan = planFilm({ ...film, audio: heard });
      return plan.ok && plan.value.kind === 'film' ? plan.value.sound : 'none';
    };
    expect([soundOf({ ...audio, codec: 'ac3' }), soundOf({ ...audio, channels: 6 }), soundOf(null)]).toEqual([
      'encode',
      'encode',
      null,
    ]);
  });

  test('without a picture it is a sound; without either, or without a length, it is nothing', () => {
    expect(planFilm({ ...film, video: null })).toEqual({
      ok: true,
      value: { kind: 'sound', durationMs: 60_000 },
    });
    expect(planFilm({ ...film, video: null, audio: null })).toEqual({ ok: false, error: 'file-unknown' });
    expect(planFilm({ ...film, durationMs: null })).toEqual({ ok: false, error: 'file-without-length' });
    expect(planFilm({ ...film, durationMs: FILE_LIMITS.longestMs + 1 })).toEqual({
      ok: false,
      error: 'file-too-long',
    });
  });

  test('held upright it is shown upright; whatever its size, it fits, keeps its shape and has even sides', () => {
    expect(planOf({ widthPx: 1920, heightPx: 1080, turnedDegrees: 90 })).toMatchObject({
      widthPx: 606,
      heightPx: 1080,
    });
    const side = fc.integer({ min: 16, max: 4096 });
    fc.assert(
      fc.property(side, side, fc.constantFrom(0, 90, 180, 270), (widthPx, heightPx, turnedDegrees) => {
        const shown = planOf({ widthPx, heightPx, turnedDegrees });
        expect(shown.widthPx).toBeLessThanOrEqual(LARGEST_PX.width);
        expect(shown.heightPx).toBeLessThanOrEqual(LARGEST_PX.height);
        expect([shown.widthPx % 2, shown.heightPx % 2]).toEqual([0, 0]);
        const [width, height] = turnedDegrees % 180 === 90 ? [heightPx, widthPx] : [widthPx, heightPx];
        // A side of two pixels at least, and otherwise no more than rounding away.
        expect(Math.abs(shown.heightPx - (shown.widthPx * height) / width)).toBeLessThanOrEqual(
          2 + (2 * height) / width,
        );
      }),
    );
  });
});

describe('what a probe says', () => {
  const stream = {
    index: 0,
    codec_type: 'video',
    codec_name: 'h264',
    profile: 'Main',
    pix_fmt: 'yuv420p',
    width: 1280,
    height: 720,
    avg_frame_rate: '30000/1001',
    field_order: 'progressive',
    bit_rate: '2400000',
    disposition: { attached_pic: 0 },
  };
  const cover = { ...stream, index: 0, codec_name: 'mjpeg', disposition: { attached_pic: 1 } };
  const sound = {
    index: 1,
    codec_type: 'audio',
    codec_name: 'aac',
    profile: 'LC',
    channels: 2,
    sample_rate: '44100',
  };
  const packet = (seconds: number, flags: string) => ({ stream_index: 0, pts_time: String(seconds), flags });

  test('is read with its units', () => {
    const packets = [packet(0, 'K_'), packet(1, '__'), packet(2.5, 'K_'), packet(9, '__')];
    expect(readMediaFacts({ streams: [stream, sound], format: { duration: '61.25' }, packets })).toEqual({
      durationMs: 61_250,
      video: {
        ...video,
        profile: 'Main',
        frameRateFps: 30_000 / 1001,
        longestKeyframeGapMs: 6500,
        bitrateBps: 2_400_000,
      },
      audio: { ...audio, sampleRateHz: 44_100 },
    });
  });

  test('a record’s cover is no film', () => {
    expect(readMediaFacts({ streams: [cover, sound], format: { duration: '200' } })).toMatchObject({
      video: null,
      audio: { codec: 'aac' },
    });
  });

  test('a turn is read from the matrix, or from the tag', () => {
    const turnOf = (more: object) =>
      readMediaFacts({ streams: [{ ...stream, ...more }] })?.video?.turnedDegrees;
    expect(turnOf({ side_data_list: [{ rotation: -90 }] })).toBe(270);
    expect(turnOf({ tags: { rotate: '90' } })).toBe(90);
  });

  test('whatever else it says breaks nothing', () => {
    fc.assert(
      fc.property(fc.anything(), (anything) => {
        const facts = readMediaFacts({ streams: [anything, stream], format: anything });
        expect(facts?.video).not.toBeNull();
        readMediaFacts(anything);
      }),
    );
  });
});

test('progress is a whole per cent, and never done before it is', () => {
  expect(progressPercent('out_time_us=15000000', 60_000)).toBe(25);
  expect(progressPercent('out_time_us=61000000', 60_000)).toBe(99);
  expect(progressPercent('frame=120', 60_000)).toBeNull();
  expect(progressPercent('out_time_us=N/A', 60_000)).toBeNull();
});
