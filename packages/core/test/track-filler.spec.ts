import { describe, expect, test } from '@jest/globals';
import { nalUnits, withParameterSets } from '../src/ingest/annex-b.js';
import { decodeMs, type Frame, isPicture, pictureAt, soundAt } from '../src/media/frame.js';
import { type AudioTrack, TRACK_ID, type VideoTrack } from '../src/media/track.js';
import { STILL_PICTURE, STILL_TRACK } from '../src/media/still-picture.js';
import { type Filled, TrackFiller } from '../src/media/track-filler.js';

const VIDEO: VideoTrack = { ...STILL_TRACK, widthPx: 1920, heightPx: 1080 };
const sound = (sampleRateHz: number, channels: number, more: number[] = []): AudioTrack => ({
  sampleRateHz,
  channels,
  codec: 'mp4a.40.2',
  config: Uint8Array.of(0x11, 0x90, ...more),
});
const picture = (ms: number, isKeyframe = false): Frame =>
  pictureAt(ms, { offsetMs: 0, isKeyframe, data: Uint8Array.of(1) });
const heard = (ms: number): Frame => soundAt(ms, Uint8Array.of(2));
const times = ({ frames }: Filled, kind: 'video' | 'audio'): number[] =>
  frames
    .filter((frame) => isPicture(frame) === (kind === 'video'))
    .map((frame) => Math.round(decodeMs(frame)));

describe('the tracks of a programme', () => {
  test('are two also where an encoder sends no sound: silence goes with its picture, without holes', () => {
    const filler = new TrackFiller();
    const tracks = { video: VIDEO, audio: null };
    const filled = Array.from({ length: 50 }, (_, index) =>
      filler.fill(picture(index * 40, index === 0), tracks),
    );
    expect(filled[0]!.tracks).toMatchObject({ video: VIDEO, audio: { sampleRateHz: 48_000, channels: 2 } });
    const silence = filled.flatMap((one) => times(one, 'audio'));
    silence.slice(1).forEach((atMs, index) => expect(atMs - silence[index]!).toBeLessThanOrEqual(22));
    expect(silence.at(-1)).toBeGreaterThan(49 * 40 - 22);
  });

  test('stay the same object when sound of the announced kind comes late: it takes over at once', () => {
    const filler = new TrackFiller();
    const expectedSound = { sampleRateHz: 44_100, channels: 1 };
    const before = filler.fill(picture(0, true), { video: VIDEO, audio: null, expectedSound });
    const both = { video: VIDEO, audio: sound(44_100, 1, [0x56, 0xe5, 0]) };
    const after = filler.fill(heard(30), both);
    expect(after.tracks).toBe(before.tracks);
    expect(times(filler.fill(picture(40), both), 'audio')).toEqual([]);
  });

  test('are others once sound of another kind comes', () => {
    const filler = new TrackFiller();
    const { tracks } = filler.fill(picture(0, true), { video: VIDEO, audio: null });
    const other = filler.fill(heard(30), { video: VIDEO, audio: sound(44_100, 2) });
    expect(other.tracks).not.toBe(tracks);
    expect(other.tracks.audio.sampleRateHz).toBe(44_100);
  });

  test('have a still picture where an encoder sends sound alone, before its first sound and every second', () => {
    const filler = new TrackFiller();
    const tracks = { video: null, audio: sound(48_000, 2) };
    const filled = Array.from({ length: 150 }, (_, index) => filler.fill(heard(index * 21), tracks));
    expect(filled[0]!.frames[0]).toMatchObject({ trackId: TRACK_ID.video, decodeTime: 0, isKeyframe: true });
    expect(filled.flatMap((one) => times(one, 'video'))).toEqual([0, 1008, 2016, 3024]);
    expect(filled[0]!.tracks.video).toBe(STILL_TRACK);
    expect([...nalUnits(STILL_PICTURE, 4)].map((unit) => unit[0]! & 0x1f)).toEqual([5]);
    expect(STILL_TRACK).toMatchObject({ widthPx: 1280, heightPx: 720 });
  });
});

describe('a keyframe', () => {
  const unit = (...bytes: number[]): number[] => [0, 0, 0, bytes.length, ...bytes];
  const typesIn = (frame: Uint8Array): number[] => [...nalUnits(frame, 4)].map((one) => one[0]! & 0x1f);

  test('carries its parameter sets, behind a delimiter where there is one', () => {
    expect(typesIn(withParameterSets(VIDEO.config, Uint8Array.from(unit(0x65, 1, 2))))).toEqual([7, 8, 5]);
    const delimited = Uint8Array.from([...unit(0x09, 0xf0), ...unit(0x65, 1)]);
    expect(typesIn(withParameterSets(VIDEO.config, delimited))).toEqual([9, 7, 8, 5]);
  });

  test('that carries its own is left as it is', () => {
    const own = Uint8Array.from([...unit(0x67, 1), ...unit(0x68, 1), ...unit(0x65, 1)]);
    expect(withParameterSets(VIDEO.config, own)).toBe(own);
  });
});
