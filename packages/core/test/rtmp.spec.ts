import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { AmfError, type AmfValue, decodeAmf0, encodeAmf0 } from '../src/ingest/amf0.js';
import { concatBytes } from '../src/bytes.js';
import {
  ChunkError,
  ChunkReader,
  MESSAGE_TYPE,
  type RtmpMessage,
  writeChunks,
} from '../src/ingest/rtmp-chunks.js';
import { RtmpServerSession, type SessionSignal } from '../src/ingest/rtmp-server-session.js';

const message = (over: Partial<RtmpMessage> = {}): RtmpMessage => ({
  typeId: MESSAGE_TYPE.video,
  streamId: 1,
  timestampMs: 40,
  payload: Uint8Array.of(0x17, 1, 0, 0, 0),
  ...over,
});

function readAll(chunks: readonly Uint8Array[]): RtmpMessage[] {
  const reader = new ChunkReader();
  const messages: RtmpMessage[] = [];
  for (const chunk of chunks) reader.push(chunk, (whole) => messages.push(whole));
  return messages;
}

describe('chunk stream', () => {
  test('a message comes through whole, however chunks and the network cut it', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 3000 }),
        fc.nat(0xffffffff),
        fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 30 }),
        (payload, timestampMs, cuts) => {
          const sent = message({ payload, timestampMs });
          const bytes = writeChunks(sent, 6, 128);
          const pieces: Uint8Array[] = [];
          for (let at = 0, turn = 0; at < bytes.byteLength; turn += 1) {
            const size = cuts[turn % cuts.length]!;
            pieces.push(bytes.subarray(at, at + size));
            at += size;
          }
          expect(readAll(pieces)).toEqual([sent]);
        },
      ),
    );
  });

  test('headers of type 1, 2 and 3 take over what they leave out', () => {
    const first = writeChunks(message({ payload: Uint8Array.of(1) }), 4, 128);
    const type1 = Uint8Array.of(0x44, 0, 0, 10, 0, 0, 2, 9, 7, 7);
    const type2 = Uint8Array.of(0x84, 0, 0, 5, 8, 8);
    const type3 = Uint8Array.of(0xc4, 9, 9);
    const read = readAll([first, type1, type2, type3]);
    expect(read.map((m) => m.timestampMs)).toEqual([40, 50, 55, 60]);
    expect(read.map((m) => m.payload.byteLength)).toEqual([1, 2, 2, 2]);
    expect(read.every((m) => m.streamId === 1)).toBe(true);
  });

  test('chunks of two streams may be shuffled together', () => {
    const long = writeChunks(message({ payload: new Uint8Array(200).fill(7) }), 4, 128);
    const short = writeChunks(message({ typeId: MESSAGE_TYPE.audio, payload: Uint8Array.of(5) }), 5, 128);
    const read = readAll([long.subarray(0, 12 + 128), short, long.subarray(12 + 128)]);
    expect(read.map((m) => m.typeId)).toEqual([MESSAGE_TYPE.audio, MESSAGE_TYPE.video]);
  });

  test('a chunk size that changes is obeyed from the next chunk on', () => {
    const set = writeChunks(
      message({ typeId: MESSAGE_TYPE.setChunkSize, payload: Uint8Array.of(0, 0, 16, 0) }),
      2,
      128,
    );
    const sent = message({ payload: new Uint8Array(3000).fill(3) });
    expect(readAll([set, writeChunks(sent, 4, 4096)])).toEqual([sent]);
  });

  test('an endless message is refused before memory is taken for it', () => {
    const header = Uint8Array.of(0x04, 0, 0, 0, 0xff, 0xff, 0xff, 9, 0, 0, 0, 0);
    expect(() => readAll([header])).toThrow(ChunkError);
  });
});

describe('AMF0', () => {
  const value: fc.Arbitrary<AmfValue> = fc.letrec<{ value: AmfValue }>((tie) => ({
    value: fc.oneof(
      { maxDepth: 3 },
      fc.double({ noNaN: true }),
      fc.boolean(),
      fc.string({ maxLength: 40 }),
      fc.constant(null),
      fc.array(tie('value'), { maxLength: 4 }),
      fc.dictionary(fc.string({ minLength: 1, maxLength: 8 }), tie('value'), {
        maxKeys: 4,
        noNullPrototype: true,
      }),
    ),
  })).value;

  test('what is written is read again', () => {
    fc.assert(
      fc.property(fc.array(value, { maxLength: 5 }), (values) =>
        expect(decodeAmf0(encodeAmf0(values))).toEqual(values),
      ),
    );
  });

  test('nesting without end is refused', () => {
    const nested = concatBytes(Array.from({ length: 30 }, () => Uint8Array.of(3, 0, 1, 97)));
    expect(() => decodeAmf0(nested)).toThrow('Nested deeper than 8');
  });
});

describe('a publishing session', () => {
  /** An encoder that has shaken hands. */
  function connected(): {
    session: RtmpServerSession;
    send: (name: string, id: number, ...values: AmfValue[]) => SessionSignal[];
  } {
    const session = new RtmpServerSession(new Uint8Array(1528));
    session.receive(concatBytes([Uint8Array.of(3), new Uint8Array(1536)]));
    session.receive(new Uint8Array(1536));
    const send = (name: string, id: number, ...values: AmfValue[]): SessionSignal[] => {
      const payload = encodeAmf0([name, id, ...values]);
      return session.receive(
        writeChunks({ typeId: MESSAGE_TYPE.command, streamId: 1, timestampMs: 0, payload }, 3, 128),
      );
    };
    return { session, send };
  }

  test('asks its owner to let the application and then the key in, and then hands over media', () => {
    const { session, send } = connected();
    expect(send('connect', 1, { app: 'in?authmod=adobe&user=tower' })).toContainEqual({
      type: 'connect-asked',
      application: 'in',
      query: 'authmod=adobe&user=tower',
    });
    session.acceptConnect();
    send('createStream', 2, null);
    expect(send('publish', 3, null, 'the-key', 'live')).toContainEqual({
      type: 'publish-asked',
      streamName: 'the-key',
    });
    session.acceptPublish();
    const media = session.receive(writeChunks(message(), 6, 128));
    expect(media).toContainEqual(expect.objectContaining({ type: 'media', kind: 'video', timestampMs: 40 }));
    expect(send('deleteStream', 4, null, 1)).toContainEqual({
      type: 'close',
      afterMs: 0,
      reason: 'encoder-stopped',
    });
  });

  test('gives a refused encoder time to read why', () => {
    const { session, send } = connected();
    send('connect', 1, { app: 'in' });
    session.acceptConnect();
    send('publish', 3, null, 'wrong', 'live');
    const signals = session.refusePublish('We do not know this key.');
    expect(signals.at(-1)).toEqual({ type: 'close', afterMs: 1000, reason: 'turned-away' });
    const [answer] = signals;
    const words = answer?.type === 'send' ? new TextDecoder().decode(answer.bytes) : '';
    expect(words).toContain('NetStream.Publish.BadName');
    expect(words).toContain('We do not know this key.');
  });

  test('acknowledges what it has received', () => {
    const { session, send } = connected();
    send('connect', 1, { app: 'in' });
    session.acceptConnect();
    send('publish', 3, null, 'key', 'live');
    session.acceptPublish();
    const big = message({ payload: new Uint8Array(3_000_000) });
    const bytes = writeChunks(big, 4, 128);
    expect(session.receive(bytes)).toContainEqual(expect.objectContaining({ type: 'send' }));
  });

  test('garbage ends in a close, never in an exception', () => {
    fc.assert(
      fc.property(
        fc.array(fc.uint8Array({ maxLength: 2000 }), { maxLength: 6 }),
        fc.boolean(),
        (pieces, shaken) => {
          const session = shaken ? connected().session : new RtmpServerSession(new Uint8Array(1528));
          for (const piece of pieces) expect(() => session.receive(piece)).not.toThrow();
        },
      ),
    );
  });
});

describe('whatever a stranger sends', () => {
  test('bytes of any kind end in signals, never in an exception', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 4000 }), { maxLength: 6 }), (pieces) => {
        const session = new RtmpServerSession(new Uint8Array(1528));
        session.receive(Uint8Array.of(3));
        for (const piece of pieces) session.receive(piece);
      }),
      { numRuns: 200 },
    );
  });

  test('any AMF0 bytes are read or refused as such', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
        try {
          decodeAmf0(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(AmfError);
        }
      }),
      { numRuns: 500 },
    );
  });

  test('a message is the same however the network cuts it', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 5000 }),
        fc.integer({ min: 1, max: 700 }),
        fc.integer({ min: 0, max: 2 ** 32 - 1 }),
        (payload, cut, timestampMs) => {
          const bytes = writeChunks({ typeId: 9, streamId: 1, timestampMs, payload }, 5, 128);
          const reader = new ChunkReader();
          const read: unknown[] = [];
          for (let at = 0; at < bytes.byteLength; at += cut)
            reader.push(bytes.subarray(at, at + cut), (message) => read.push(message));
          expect(read).toEqual([{ typeId: 9, streamId: 1, timestampMs, payload }]);
        },
      ),
    );
  });

  test('gets no memory: large messages only once it has been let in, and never many at once', () => {
    const claim = (chunkStream: number): Uint8Array =>
      writeChunks(
        { typeId: 9, streamId: 1, timestampMs: 0, payload: new Uint8Array(8 * 1024 * 1024) },
        chunkStream,
        128,
      ).subarray(0, 140);
    expect(() => new ChunkReader().push(claim(5), () => undefined)).toThrow(/at most 65536/);
    const trusted = new ChunkReader();
    trusted.trust();
    trusted.push(claim(5), () => undefined);
    expect(() => trusted.push(claim(6), () => undefined)).toThrow(/Too many messages/);
  });
});
