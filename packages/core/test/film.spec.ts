import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type ActualFilm, FILM_BEGINS_WITHIN_MS, filmStep } from '../src/control/film.js';
import { FlvStream } from '../src/ingest/flv-stream.js';
import { flvHeader, type FlvTag, flvTag, readFlvFile } from '../src/ingest/flv-tags.js';
import { concatBytes } from '../src/bytes.js';
import { type EventLife, planOf } from '../src/schedule/event-life.js';

const AIR = 1_000_000;
const film = { fileId: 'f', sizeBytes: 1, durationMs: 60_000, standsAlone: false };
const onAir: EventLife = { state: 'air', doorsAtMs: AIR - 60_000, airAtMs: AIR };
const step = (nowMs: number, is: ActualFilm | null = null, isHere = true) =>
  filmStep(film, is, onAir, isHere, nowMs);

describe('the opening film', () => {
  test('lets the event go on air so much earlier, and the doors no later than that', () => {
    const settings = { startsAtMs: AIR, stopsAtMs: AIR + 1, overrunMinutes: 0, deadAirMinutes: 10 };
    const planned = (filmMs: number) => planOf({ ...settings, filmMs, doorsMinutes: 1 });
    expect(planned(30_000)).toMatchObject({ airAtMs: AIR - 30_000, doorsAtMs: AIR - 60_000 });
    expect(planned(180_000)).toMatchObject({ airAtMs: AIR - 180_000, doorsAtMs: AIR - 180_000 });
  });

  test('standing alone begins however late, where it would be by now', () => {
    const alone = { ...film, standsAlone: true };
    expect(filmStep(alone, null, onAir, true, AIR + 20_000)).toEqual({ type: 'start', offsetMs: 20_000 });
    expect(step(AIR + 20_000)).toBeNull();
  });

  test('begins with air, from its beginning', () => {
    expect(step(AIR)).toEqual({ type: 'start', offsetMs: 0 });
    expect(step(AIR + 250)).toEqual({ type: 'start', offsetMs: 250 });
    expect(filmStep(film, null, { state: 'doors', doorsAtMs: 0 }, true, AIR)).toBeNull();
  });

  test('plays once: neither while it plays nor when it is over does anything have to be done', () => {
    expect(step(AIR + 10_000, { fileId: 'f', state: 'playing' })).toBeNull();
    expect(step(AIR + 10_000, { fileId: 'f', state: 'over' })).toBeNull();
  });

  test('that has not come in time is left out: it pushes nothing aside in the middle', () => {
    expect(step(AIR, null, false)).toBeNull();
    expect(step(AIR + FILM_BEGINS_WITHIN_MS + 1)).toBeNull();
  });

  test('broken off by a fault of ours goes on where it would be by now, but for its last moment', () => {
    const brokenOff = { fileId: 'f', state: 'broken-off' } as const;
    expect(step(AIR + 20_000, brokenOff)).toEqual({ type: 'start', offsetMs: 20_000 });
    expect(step(AIR + 59_800, brokenOff)).toBeNull();
    expect(step(AIR + 90_000, brokenOff)).toBeNull();
  });

  test('stops when the desk passes over it, when another is chosen, and when the event ends', () => {
    const playing = { fileId: 'f', state: 'playing' } as const;
    const stop = { type: 'stop' };
    expect(filmStep(null, playing, onAir, false, AIR)).toEqual(stop);
    expect(filmStep({ ...film, fileId: 'g' }, playing, onAir, true, AIR)).toEqual(stop);
    const kept: EventLife = { ...onAir, state: 'kept', endAtMs: AIR + 1, cause: 'by-hand' };
    expect(filmStep(film, playing, kept, true, AIR)).toEqual(stop);
  });
});

test('an FLV file that comes in pieces of any size is the same as the whole', () => {
  const tag = fc.record({
    kind: fc.constantFrom('audio' as const, 'video' as const),
    timestampMs: fc.nat(0xffffffff),
    body: fc.uint8Array({ maxLength: 40 }),
  });
  const plain = (tags: Iterable<FlvTag>) =>
    [...tags].map(({ body, ...rest }) => ({ ...rest, body: [...body] }));
  fc.assert(
    fc.property(fc.array(tag), fc.integer({ min: 1, max: 30 }), (tags, pieceBytes) => {
      const file = concatBytes([
        flvHeader({ video: true, audio: true }),
        ...tags.map(({ kind, timestampMs, body }) => flvTag(kind, timestampMs, body)),
      ]);
      const stream = new FlvStream();
      const read: FlvTag[] = [];
      for (let at = 0; at < file.byteLength; at += pieceBytes)
        read.push(...stream.push(file.subarray(at, at + pieceBytes)));
      expect(plain(read)).toEqual(plain(tags));
      expect(plain(readFlvFile(file))).toEqual(plain(tags));
    }),
  );
});
