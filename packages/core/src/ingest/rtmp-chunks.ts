import { concatBytes, viewOf } from '../bytes.js';

/** One RTMP message (Adobe RTMP 1.0, section 6). */
export interface RtmpMessage {
  readonly typeId: number;
  readonly streamId: number;
  readonly timestampMs: number;
  readonly payload: Uint8Array;
}

export const MESSAGE_TYPE = {
  setChunkSize: 1,
  abort: 2,
  acknowledgement: 3,
  userControl: 4,
  windowAckSize: 5,
  setPeerBandwidth: 6,
  audio: 8,
  video: 9,
  data: 18,
  command: 20,
} as const;

/** Bounds of what one peer may ask us to hold. A 4K keyframe at a very high rate stays under the message size. */
export const CHUNK_LIMITS = {
  messageBytes: 8 * 1024 * 1024,
  chunkStreams: 64,
  chunkBytes: 1024 * 1024,
  /** All messages of one peer that are not whole yet, together. */
  pendingBytes: 12 * 1024 * 1024,
  /** Before a peer has been let in: commands are short. */
  strangerMessageBytes: 64 * 1024,
} as const;

export class ChunkError extends Error {
  override readonly name = 'ChunkError';
}

interface ChunkStream {
  timestampMs: number;
  deltaMs: number;
  lengthBytes: number;
  typeId: number;
  streamId: number;
  extended: boolean;
  payload: Uint8Array | null;
  filledBytes: number;
}

const EXTENDED = 0xffffff;

/**
 * Puts messages together from the chunk stream (section 5.3): all four header types, extended timestamps
 * (repeated on type 3 chunks, as encoders do), interleaved chunk streams, and chunk sizes that change.
 */
export class ChunkReader {
  #chunkBytes = 128;
  #rest: Uint8Array = new Uint8Array(0);
  readonly #streams = new Map<number, ChunkStream>();
  #pendingBytes = 0;
  #messageLimitBytes: number = CHUNK_LIMITS.strangerMessageBytes;

  /** The peer has been let in and may send pictures. */
  trust(): void {
    this.#messageLimitBytes = CHUNK_LIMITS.messageBytes;
  }

  /**
   * Takes what arrived and hands over the messages that are whole. SetChunkSize and Abort are obeyed here.
   * @param bytes - kept, without a copy: a message that came in one piece is a part of them.
   * @throws ChunkError when the peer breaks the format or a limit; the connection cannot go on.
   */
  push(bytes: Uint8Array, onMessage: (message: RtmpMessage) => void): void {
    let data = this.#rest.byteLength ? concatBytes([this.#rest, bytes]) : bytes;
    for (;;) {
      const used = this.#readChunk(data, onMessage);
      if (used === 0) break;
      data = data.subarray(used);
    }
    this.#rest = data;
  }

  /** Returns how many bytes one chunk took, 0 when it is not whole yet. */
  #readChunk(data: Uint8Array, onMessage: (message: RtmpMessage) => void): number {
    const first = data[0];
    if (first === undefined) return 0;
    const format = first >> 6;
    const basicBytes = (first & 0x3f) === 0 ? 2 : (first & 0x3f) === 1 ? 3 : 1;
    const headerBytes = [11, 7, 3, 0][format]!;
    let at = basicBytes + headerBytes;
    if (data.byteLength < at) return 0;
    const id = chunkStreamId(data, basicBytes, first);
    const stream = this.#streamOf(id, format);
    const view = viewOf(data);

    const shortTime = format < 3 ? uint24(data, basicBytes) : 0;
    const extended = format < 3 ? shortTime === EXTENDED : stream.extended;
    if (extended) {
      if (data.byteLength < at + 4) return 0;
      at += 4;
    }
    const time = extended ? view.getUint32(at - 4) : shortTime;
    const startsMessage = stream.payload === null;
    if (!startsMessage && format < 2)
      throw new ChunkError('A new message began before the last one was whole');

    const lengthBytes = format < 2 ? uint24(data, basicBytes + 3) : stream.lengthBytes;
    if (lengthBytes > this.#messageLimitBytes)
      throw new ChunkError(`A message of ${lengthBytes} bytes; at most ${this.#messageLimitBytes}`);
    const filledBytes = startsMessage ? 0 : stream.filledBytes;
    const size = Math.min(this.#chunkBytes, lengthBytes - filledBytes);
    if (data.byteLength < at + size) return 0;

    // Nothing above changed the stream: a chunk cut in two by the network is simply read again.
    stream.extended = extended;
    if (format < 2) {
      stream.lengthBytes = lengthBytes;
      stream.typeId = data[basicBytes + 6]!;
    }
    if (format === 0) {
      stream.streamId = view.getUint32(basicBytes + 7, true);
      stream.timestampMs = time;
      stream.deltaMs = 0;
    } else if (startsMessage) {
      if (format < 3) stream.deltaMs = time;
      stream.timestampMs = (stream.timestampMs + stream.deltaMs) >>> 0;
    }
    const piece = data.subarray(at, at + size);
    if (size === lengthBytes) this.#deliver(stream, piece, onMessage);
    else {
      stream.payload ??= this.#reserve(lengthBytes);
      stream.payload.set(piece, filledBytes);
      stream.filledBytes = filledBytes + size;
      if (stream.filledBytes === lengthBytes) this.#deliver(stream, this.#release(stream)!, onMessage);
    }
    return at + size;
  }

  #deliver(stream: ChunkStream, payload: Uint8Array, onMessage: (message: RtmpMessage) => void): void {
    const { typeId, streamId, timestampMs } = stream;
    if (typeId === MESSAGE_TYPE.setChunkSize) {
      const size = payload.byteLength >= 4 ? viewOf(payload).getUint32(0) & 0x7fffffff : 0;
      if (size < 1 || size > CHUNK_LIMITS.chunkBytes) throw new ChunkError(`A chunk size of ${size} bytes`);
      this.#chunkBytes = size;
    } else if (typeId === MESSAGE_TYPE.abort) {
      const aborted = payload.byteLength >= 4 ? this.#streams.get(viewOf(payload).getUint32(0)) : undefined;
      if (aborted) this.#release(aborted);
    } else {
      onMessage({ typeId, streamId, timestampMs, payload });
    }
  }

  #reserve(lengthBytes: number): Uint8Array {
    this.#pendingBytes += lengthBytes;
    if (this.#pendingBytes > CHUNK_LIMITS.pendingBytes)
      throw new ChunkError('Too many messages begun at once');
    return new Uint8Array(lengthBytes);
  }

  #release(stream: ChunkStream): Uint8Array | null {
    const { payload } = stream;
    stream.payload = null;
    this.#pendingBytes -= payload?.byteLength ?? 0;
    return payload;
  }

  #streamOf(id: number, format: number): ChunkStream {
    const known = this.#streams.get(id);
    if (known) return known;
    // Some encoders open a chunk stream with type 1; type 2 and 3 have nothing to build on.
    if (format > 1) throw new ChunkError(`Chunk stream ${id} begins with header type ${format}`);
    if (this.#streams.size >= CHUNK_LIMITS.chunkStreams) throw new ChunkError('Too many chunk streams');
    const stream = {
      timestampMs: 0,
      deltaMs: 0,
      lengthBytes: 0,
      typeId: 0,
      streamId: 0,
      extended: false,
      payload: null,
      filledBytes: 0,
    };
    this.#streams.set(id, stream);
    return stream;
  }
}

function chunkStreamId(data: Uint8Array, basicBytes: number, first: number): number {
  if (basicBytes === 1) return first & 0x3f;
  if (basicBytes === 2) return 64 + data[1]!;
  return 64 + data[1]! + data[2]! * 256;
}

const uint24 = (data: Uint8Array, at: number): number =>
  (data[at]! << 16) | (data[at + 1]! << 8) | data[at + 2]!;

/** Cuts a message into chunks of `chunkBytes`: a full header, then type 3 continuations. */
export function writeChunks(message: RtmpMessage, chunkStream: number, chunkBytes: number): Uint8Array {
  const { payload, timestampMs } = message;
  const extended = timestampMs >= EXTENDED;
  const header = new Uint8Array(extended ? 16 : 12);
  const view = viewOf(header);
  view.setUint8(0, chunkStream);
  setUint24(view, 1, extended ? EXTENDED : timestampMs);
  setUint24(view, 4, payload.byteLength);
  view.setUint8(7, message.typeId);
  view.setUint32(8, message.streamId, true);
  if (extended) view.setUint32(12, timestampMs);
  const continuation = new Uint8Array(extended ? 5 : 1);
  continuation[0] = 0xc0 | chunkStream;
  if (extended) viewOf(continuation).setUint32(1, timestampMs);
  const pieces: Uint8Array[] = [header];
  for (let at = 0; at < payload.byteLength; at += chunkBytes) {
    if (at > 0) pieces.push(continuation);
    pieces.push(payload.subarray(at, at + chunkBytes));
  }
  return concatBytes(pieces);
}

function setUint24(view: DataView, at: number, value: number): void {
  view.setUint8(at, value >>> 16);
  view.setUint16(at + 1, value & 0xffff);
}
