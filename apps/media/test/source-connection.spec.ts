import { beforeEach, describe, expect, test } from '@jest/globals';
import { aacConfigBody, aacFrameBody, avcConfigBody, avcFrameBody } from '@heliphon/core/ingest/flv-tags';
import type { Tracks } from '@heliphon/core/packaging/init-segment';
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
  sounds = 0;
  went = 0;
  readonly connection = new SourceConnection(
    'c',
    's',
    'hash',
    0,
    (reason, detail) => this.refusals.push(`${reason} ${detail}`.trim()),
    0,
    { remoteAddress: '::1', protocol: 'rtmp' },
  );

  constructor() {
    this.connection.listen({
      videoFrame: ({ decodeMs }, tracks) => {
        this.times.push(decodeMs);
        this.tracks.push(tracks);
      },
      audioFrame: () => (this.sounds += 1),
      sourceWent: () => (this.went += 1),
    });
  }
  picture(atMs: number, isKeyframe = true): void {
    const payload = avcFrameBody({ isKeyframe, compositionOffsetMs: 0, data: DATA });
    this.connection.media({ kind: 'video', timestampMs: atMs, payload }, atMs);
  }
  video(payload: Uint8Array, atMs = 0): void {
    this.connection.media({ kind: 'video', timestampMs: atMs, payload }, atMs);
  }
  audio(payload: Uint8Array, atMs = 0): void {
    this.connection.media({ kind: 'audio', timestampMs: atMs, payload }, atMs);
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

  test('that announces sound is waited for, but not for ever', () => {
    sent.connection.metadata({ audiocodecid: 10, encoder: 'Box 3' });
    sent.video(avcConfigBody(AVC));
    sent.picture(1000);
    expect(sent.tracks).toHaveLength(0);
    sent.picture(3000);
    expect(sent.tracks.map(({ audio }) => audio)).toEqual([null]);
    expect(sent.connection.meter.report(3000).encoder).toBe('Box 3');
  });

  test('that announces none goes without at once', () => {
    sent.connection.metadata({ videocodecid: 7 });
    sent.video(avcConfigBody(AVC));
    sent.picture(0);
    expect(sent.tracks).toHaveLength(1);
  });

  test('that sends sound alone goes out alone, once a picture has been waited for', () => {
    sent.audio(aacConfigBody(AAC));
    for (let atMs = 0; atMs <= 5000; atMs += 500) sent.audio(aacFrameBody(DATA), atMs);
    expect(sent.sounds).toBe(0);
    sent.audio(aacFrameBody(DATA), 5500);
    expect([sent.sounds, sent.refusals]).toEqual([1, []]);
    expect(sent.connection.meter.isPresent(5500)).toBe(true);
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
    expect(sent.connection.keyframe?.frame.decodeMs).toBe(40);
  });

  test('tells its listeners once that it went', () => {
    sent.connection.went();
    sent.connection.went();
    expect(sent.went).toBe(1);
  });
});
