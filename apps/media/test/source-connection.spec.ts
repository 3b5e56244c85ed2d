import { beforeEach, describe, expect, test } from '@jest/globals';
import { aacConfigBody, aacFrameBody, avcConfigBody, avcFrameBody } from '@heliphon/core/ingest/flv-tags';
import type { AmfObject } from '@heliphon/core/ingest/amf0';
import { type FlvMessage, FlvSource } from '@heliphon/core/ingest/flv-source';
import { decodeMs, isPicture } from '@heliphon/core/media/frame';
import type { Tracks } from '@heliphon/core/media/track';
import { SourceConnection } from '../src/ingest/source-connection.js';

// From x264 at 1280 × 720, High profile, level 3.1.
const AVC = Uint8Array.from(
  Buffer.from('0164001fffe1001a6764001facd9405005bb016a02020280000003008000001e478c1924', 'hex'),
);
const AAC = Uint8Array.of(0x11, 0x90);
const MONO = Uint8Array.of(0x11, 0x88);
const DATA = Uint8Array.of(0, 0, 0, 1, 9);

/** An encoder that has been let in, and what its listener heard. */
class Sent {
  readonly refusals: string[] = [];
  readonly tracks: Tracks[] = [];
  readonly times: number[] = [];
  readonly late: (number | undefined)[] = [];
  sounds = 0;
  went = 0;
  readonly #source = new FlvSource();
  readonly connection = new SourceConnection(
    'c',
    's',
    'hash',
    (reason, detail) => this.refusals.push(`${reason} ${detail}`.trim()),
    0,
    { remoteAddress: '::1', protocol: 'rtmp' },
  );

  constructor() {
    this.connection.listen({
      frame: (frame, tracks, lateMs) => {
        if (!isPicture(frame)) return (this.sounds += 1);
        this.times.push(decodeMs(frame));
        this.late.push(lateMs);
        return this.tracks.push(tracks);
      },
      sourceWent: () => (this.went += 1),
    });
  }
  picture(atMs: number, isKeyframe = true): void {
    this.video(avcFrameBody({ isKeyframe, compositionOffsetMs: 0, data: DATA }), atMs);
  }
  announce(metadata: AmfObject): void {
    this.connection.take(this.#source.announce(metadata), 0);
  }
  video(body: Uint8Array, atMs = 0): void {
    this.#read({ kind: 'video', timestampMs: atMs, body });
  }
  audio(body: Uint8Array, atMs = 0): void {
    this.#read({ kind: 'audio', timestampMs: atMs, body });
  }

  #read(message: FlvMessage): void {
    const signal = this.#source.read(message);
    if (signal) this.connection.take(signal, message.timestampMs);
  }
}

let sent: Sent;
beforeEach(() => {
  sent = new Sent();
});

describe('an encoder that has been let in', () => {
  test('hands on pictures with one description, until its configuration changes', () => {
    sent.video(avcConfigBody(AVC));
    sent.audio(aacConfigBody(AAC));
    sent.picture(0);
    sent.audio(aacConfigBody(AAC)); // said again, as encoders do
    sent.picture(33, false);
    sent.audio(aacConfigBody(MONO));
    sent.picture(66);
    expect(sent.tracks[1]).toBe(sent.tracks[0]);
    expect(sent.tracks[2]).not.toBe(sent.tracks[1]);
    expect(sent.tracks.map(({ audio }) => audio?.channels)).toEqual([2, 2, 1]);
    expect(sent.tracks[0]!.video).toMatchObject({ widthPx: 1280, heightPx: 720 });
  });

  test('that announces sound is waited for, but not for ever, and nothing is lost meanwhile', () => {
    sent.announce({ audiocodecid: 10, audiosamplerate: 44_100, stereo: false, encoder: 'Box 3' });
    sent.video(avcConfigBody(AVC));
    sent.picture(1000);
    expect(sent.tracks).toHaveLength(0);
    sent.picture(2000);
    expect(sent.times).toEqual([1000, 2000]);
    expect(sent.late).toEqual([1000, 0]);
    const expectedSound = { sampleRateHz: 44_100, channels: 1 };
    expect(sent.tracks[0]).toMatchObject({ audio: null, expectedSound });
    expect(sent.connection.meter.report(3000).encoder).toBe('Box 3');
  });

  test('that announces none goes without at once', () => {
    sent.announce({ videocodecid: 7 });
    sent.video(avcConfigBody(AVC));
    sent.picture(0);
    expect(sent.tracks).toHaveLength(1);
  });

  test('that sends sound alone loses none of it while a picture is waited for', () => {
    sent.audio(aacConfigBody(AAC));
    for (let atMs = 0; atMs < 5000; atMs += 500) sent.audio(aacFrameBody(DATA), atMs);
    expect(sent.sounds).toBe(0);
    sent.audio(aacFrameBody(DATA), 5000);
    expect([sent.sounds, sent.refusals]).toEqual([11, []]);
    expect(sent.connection.meter.isPresent(5000)).toBe(true);
  });

  test('that announces no picture sends its sound at once', () => {
    sent.announce({ audiocodecid: 10 });
    sent.audio(aacConfigBody(AAC));
    sent.audio(aacFrameBody(DATA), 0);
    expect(sent.sounds).toBe(1);
  });

  test('whose clock passes the 32-bit edge goes on without a jump', () => {
    sent.video(avcConfigBody(AVC), 2 ** 32 - 20);
    for (const atMs of [2 ** 32 - 20, 20]) sent.picture(atMs);
    expect(sent.times).toEqual([2 ** 32 - 20, 2 ** 32 + 20]);
  });

  test.each([
    ['a picture that is not H.264', 'video', Uint8Array.of(0x12, 0), 'video-codec Sorenson H.263'],
    [
      'a broken configuration',
      'video',
      avcConfigBody(Uint8Array.of(1, 2)),
      'video-codec no AVC configuration record',
    ],
    ['sound that is not AAC', 'audio', Uint8Array.of(0x2f, 1), 'audio-codec MP3'],
    [
      'a broken AAC configuration',
      'audio',
      aacConfigBody(Uint8Array.of(0x12)),
      'audio-codec the AAC configuration is cut short',
    ],
  ] as const)('%s is refused by name', (_name, kind, payload, refusal) => {
    sent[kind](payload);
    expect(sent.refusals).toEqual([refusal]);
  });

  test('may announce its sound before it knows of what kind it is', () => {
    sent.audio(aacConfigBody(new Uint8Array(0)));
    expect(sent.refusals).toEqual([]);
  });

  test('keeps its last keyframe for a thumbnail, and pictures before the configuration are no pictures', () => {
    sent.picture(0);
    expect(sent.connection.keyframe).toBeNull();
    sent.video(avcConfigBody(AVC));
    sent.picture(40);
    sent.picture(80, false);
    expect(sent.connection.keyframe?.frame.decodeTime).toBe(40);
  });

  test('tells its listeners once that it went', () => {
    sent.connection.went();
    sent.connection.went();
    expect(sent.went).toBe(1);
  });
});
