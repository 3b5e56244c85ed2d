import { concatBytes, viewOf } from '../bytes.js';
import { type AmfObject, type AmfValue, encodeAmf0 } from './amf0.js';
import { MESSAGE_TYPE, writeChunks } from './rtmp-chunks.js';

/** What both sides of an RTMP connection say alike (Adobe RTMP 1.0, 5.4 and 7). */
export const HANDSHAKE_BYTES = 1536;
export const OUT_CHUNK_BYTES = 4096;
const COMMAND_CHUNK_STREAM = 3;
const CONTROL_CHUNK_STREAM = 2;
const PING_REQUEST = 6;

export const isObject = (value: AmfValue | undefined): value is AmfObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

export function uint32(value: number): Uint8Array {
  const bytes = new Uint8Array(4);
  viewOf(bytes).setUint32(0, value);
  return bytes;
}

export function commandBytes(
  streamId: number,
  name: string,
  transactionId: number,
  ...values: readonly AmfValue[]
): Uint8Array {
  const payload = encodeAmf0([name, transactionId, ...values]);
  const message = { typeId: MESSAGE_TYPE.command, streamId, timestampMs: 0, payload };
  return writeChunks(message, COMMAND_CHUNK_STREAM, OUT_CHUNK_BYTES);
}

export const controlBytes = (typeId: number, payload: Uint8Array): Uint8Array =>
  writeChunks({ typeId, streamId: 0, timestampMs: 0, payload }, CONTROL_CHUNK_STREAM, OUT_CHUNK_BYTES);

/** Has to come before any message over 128 bytes. */
export const chunkSizeBytes = (): Uint8Array =>
  controlBytes(MESSAGE_TYPE.setChunkSize, uint32(OUT_CHUNK_BYTES));

/** Our half of the handshake's first message: time and zero, then what is random. */
export const helloBytes = (random: Uint8Array): Uint8Array =>
  concatBytes([new Uint8Array(8), random.subarray(0, HANDSHAKE_BYTES - 8)]);

/** The answer to a user control message, where it is a ping. */
export function pongBytes(payload: Uint8Array): Uint8Array | null {
  const isPing = payload.byteLength >= 6 && viewOf(payload).getUint16(0) === PING_REQUEST;
  return isPing
    ? controlBytes(MESSAGE_TYPE.userControl, concatBytes([Uint8Array.of(0, 7), payload.subarray(2, 6)]))
    : null;
}

/** Says how much was received, each time another window of it has been (5.4.3). */
export class Acknowledger {
  #receivedBytes = 0;
  #acknowledgedBytes = 0;

  constructor(private windowBytes: number) {}

  /** The peer asks for another window. */
  setWindow(payload: Uint8Array): void {
    if (payload.byteLength >= 4) this.windowBytes = Math.max(65_536, viewOf(payload).getUint32(0));
  }

  received(sizeBytes: number): void {
    this.#receivedBytes += sizeBytes;
  }

  /** @returns what is to be sent now, if anything */
  due(): Uint8Array | null {
    if (this.#receivedBytes - this.#acknowledgedBytes < this.windowBytes) return null;
    this.#acknowledgedBytes = this.#receivedBytes;
    return controlBytes(MESSAGE_TYPE.acknowledgement, uint32(this.#receivedBytes >>> 0));
  }
}
