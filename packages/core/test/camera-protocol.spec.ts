import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  CAMERA_LIMITS,
  CAMERA_TYPES,
  type CameraItem,
  confirm,
  containerOf,
  EMPTY_BACKLOG,
  isForgotten,
  keepItem,
  orderOf,
  readPiece,
  writePiece,
} from '../src/ingest/camera-protocol.js';
import { isItsOwnSource, isShared } from '../src/ingest/source-kinds.js';

const piece = (...bytes: number[]): CameraItem => ({ kind: 'piece', bytes: Uint8Array.from(bytes) });

describe('what a browser records', () => {
  test('is numbered, kept, and let go once the node has it', () => {
    let backlog = EMPTY_BACKLOG;
    for (const item of [piece(1), piece(2, 2), piece(3)]) {
      const kept = keepItem(backlog, item);
      if (kept === 'full') throw new Error('It is not full');
      backlog = kept;
    }
    expect(backlog.kept.map(({ seq }) => seq)).toEqual([0, 1, 2]);
    const after = confirm(backlog, 2);
    expect(after.kept.map(({ seq }) => seq)).toEqual([2]);
    expect([after.nextSeq, after.keptBytes]).toEqual([3, 1]);
    expect(confirm(after, 1)).toBe(after);
  });

  test('is kept up to a bound, and says when it is reached', () => {
    const full = { ...EMPTY_BACKLOG, keptBytes: CAMERA_LIMITS.keptBytes };
    expect(keepItem(full, piece(1))).toBe('full');
    expect(keepItem(full, { kind: 'end' })).not.toBe('full');
  });

  test('is begun again where the node has forgotten it, and only there', () => {
    expect(isForgotten(EMPTY_BACKLOG, 0)).toBe(false);
    const kept = keepItem(keepItem(EMPTY_BACKLOG, piece(1)) as typeof EMPTY_BACKLOG, piece(2));
    if (kept === 'full') throw new Error('It is not full');
    expect([0, 1, 2].map((nextSeq) => isForgotten(kept, nextSeq))).toEqual([false, false, false]);
    expect(isForgotten(confirm(kept, 1), 0)).toBe(true);
    expect(isForgotten(confirm(kept, 2), 2)).toBe(false);
    expect(isForgotten(confirm(kept, 2), 0)).toBe(true);
  });

  test('survives the way: a piece is read as it was written, and nothing else is a piece', () => {
    fc.assert(
      fc.property(fc.nat(0xffff_ffff), fc.uint8Array({ minLength: 1, maxLength: 100 }), (seq, bytes) => {
        expect(readPiece(writePiece(seq, bytes))).toEqual({ seq, bytes });
      }),
    );
    expect(readPiece(new Uint8Array(4))).toBeNull();
    expect(readPiece(new Uint8Array(CAMERA_LIMITS.pieceBytes + 5))).toBeNull();
  });

  test('arrives whole and once, however often the line breaks', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(5), { minLength: 1, maxLength: 30 }), (breaks) => {
        // The node has taken some; the sender begins again with what is not confirmed, which may lag behind.
        const sent = breaks.map((_, index) => index);
        const taken: number[] = [];
        for (const lag of breaks) {
          for (let seq = Math.max(0, taken.length - lag); seq < sent.length; seq += 1) {
            if (orderOf(taken.length, seq) === 'next') taken.push(seq);
            if (taken.length % 3 === lag % 3) break;
          }
        }
        expect(taken).toEqual(sent.slice(0, taken.length));
      }),
    );
    expect(orderOf(3, 5)).toBe('gap');
  });

  test('is read where its picture is H.264 in a container that can be read as it comes', () => {
    expect(CAMERA_TYPES.map(containerOf)).toEqual(['matroska', 'matroska', 'mp4', 'mp4']);
    for (const type of ['video/webm;codecs=vp9,opus', 'video/webm', 'audio/webm;codecs=opus', 'text/h264'])
      expect(containerOf(type)).toBeNull();
  });
});

describe('what a source is', () => {
  test('only a device is one event’s alone', () => {
    expect([isShared('device'), isShared('programme'), isShared('file')]).toEqual([false, true, true]);
  });

  test('nothing may in the end show itself', () => {
    const leads = [
      { from: 'hall', to: 'chapel' },
      { from: 'chapel', to: 'pier' },
    ];
    expect(isItsOwnSource('hall', leads)).toBe(false);
    expect(isItsOwnSource('hall', [...leads, { from: 'pier', to: 'hall' }])).toBe(true);
    expect(isItsOwnSource('hall', [{ from: 'hall', to: 'hall' }])).toBe(true);
  });

  test('a ring of others ends the search, and is not one’s own', () => {
    const ring = [
      { from: 'hall', to: 'a' },
      { from: 'a', to: 'b' },
      { from: 'b', to: 'a' },
    ];
    expect(isItsOwnSource('hall', ring)).toBe(false);
  });
});
