import { concatBytes, fromUtf8, utf8, viewOf } from '../bytes.js';

/** A value of AMF0 (Action Message Format 0, 2006 specification), as far as encoders use it. */
export type AmfValue = number | boolean | string | null | undefined | AmfObject | readonly AmfValue[];
export interface AmfObject {
  readonly [key: string]: AmfValue;
}

/** Limits that keep a hostile peer from costing memory or stack. */
export const AMF_LIMITS = { depth: 8, stringBytes: 8192, members: 256 } as const;

export class AmfError extends Error {
  override readonly name = 'AmfError';
}

const MARKER = {
  number: 0,
  boolean: 1,
  string: 2,
  object: 3,
  null: 5,
  undefined: 6,
  ecmaArray: 8,
  objectEnd: 9,
  strictArray: 10,
  date: 11,
  longString: 12,
} as const;

/**
 * Reads every value of a message body.
 * @throws AmfError when the body is cut short, nested too deep, or holds a type that no encoder sends.
 */
export function decodeAmf0(bytes: Uint8Array): AmfValue[] {
  const reader = new AmfReader(bytes);
  const values: AmfValue[] = [];
  while (!reader.atEnd) values.push(reader.value(0));
  return values;
}

class AmfReader {
  #at = 0;
  readonly #view: DataView;
  constructor(private readonly bytes: Uint8Array) {
    this.#view = viewOf(bytes);
  }

  get atEnd(): boolean {
    return this.#at >= this.bytes.byteLength;
  }

  value(depth: number): AmfValue {
    if (depth > AMF_LIMITS.depth) throw new AmfError(`Nested deeper than ${AMF_LIMITS.depth}`);
    const marker = this.#take(1)[0];
    switch (marker) {
      case MARKER.number:
        return this.#double();
      case MARKER.boolean:
        return this.#take(1)[0] !== 0;
      case MARKER.string:
        return this.#string(this.#uint(2));
      case MARKER.longString:
        return this.#string(this.#uint(4));
      case MARKER.object:
        return this.#members(depth);
      case MARKER.ecmaArray:
        this.#take(4); // the count is only a hint; the end marker decides
        return this.#members(depth);
      case MARKER.strictArray:
        return this.#list(depth);
      case MARKER.date: {
        const epochMs = this.#double();
        this.#take(2); // time zone, reserved
        return epochMs;
      }
      case MARKER.null:
        return null;
      case MARKER.undefined:
        return undefined;
      default:
        throw new AmfError(`Type ${marker} is not supported`);
    }
  }

  #members(depth: number): AmfObject {
    const members: Record<string, AmfValue> = {};
    for (let count = 0; ; count += 1) {
      if (count > AMF_LIMITS.members) throw new AmfError(`More than ${AMF_LIMITS.members} members`);
      const key = this.#string(this.#uint(2));
      if (key === '' && this.bytes[this.#at] === MARKER.objectEnd) {
        this.#at += 1;
        return members;
      }
      Object.defineProperty(members, key, {
        value: this.value(depth + 1),
        enumerable: true,
        configurable: true,
      });
    }
  }

  #list(depth: number): AmfValue[] {
    const count = this.#uint(4);
    if (count > AMF_LIMITS.members) throw new AmfError(`More than ${AMF_LIMITS.members} members`);
    return Array.from({ length: count }, () => this.value(depth + 1));
  }

  #double(): number {
    const at = this.#at;
    this.#take(8);
    return this.#view.getFloat64(at);
  }

  #uint(size: 2 | 4): number {
    const at = this.#at;
    this.#take(size);
    return size === 2 ? this.#view.getUint16(at) : this.#view.getUint32(at);
  }

  #string(size: number): string {
    if (size > AMF_LIMITS.stringBytes)
      throw new AmfError(`A text of ${size} bytes; at most ${AMF_LIMITS.stringBytes}`);
    return fromUtf8(this.#take(size));
  }

  #take(size: number): Uint8Array {
    if (this.#at + size > this.bytes.byteLength) throw new AmfError('The message is cut short');
    this.#at += size;
    return this.bytes.subarray(this.#at - size, this.#at);
  }
}

/** Writes values one after another, as a command message carries them. */
export function encodeAmf0(values: readonly AmfValue[]): Uint8Array {
  return concatBytes(values.map(encodeValue));
}

function encodeValue(value: AmfValue): Uint8Array {
  if (value === null) return Uint8Array.of(MARKER.null);
  if (value === undefined) return Uint8Array.of(MARKER.undefined);
  if (typeof value === 'boolean') return Uint8Array.of(MARKER.boolean, value ? 1 : 0);
  if (typeof value === 'number') {
    const bytes = new Uint8Array(9);
    viewOf(bytes).setFloat64(1, value);
    return bytes;
  }
  if (typeof value === 'string') {
    const text = utf8(value);
    const long = text.byteLength > 0xffff;
    return concatBytes([
      Uint8Array.of(long ? MARKER.longString : MARKER.string),
      lengthOf(text, long ? 4 : 2),
      text,
    ]);
  }
  if (Array.isArray(value)) {
    const count = new Uint8Array(5);
    count[0] = MARKER.strictArray;
    viewOf(count).setUint32(1, value.length);
    return concatBytes([count, ...value.map(encodeValue)]);
  }
  const members = Object.entries(value as AmfObject).flatMap(([key, member]) => {
    const name = utf8(key);
    return [lengthOf(name, 2), name, encodeValue(member)];
  });
  return concatBytes([Uint8Array.of(MARKER.object), ...members, Uint8Array.of(0, 0, MARKER.objectEnd)]);
}

function lengthOf(text: Uint8Array, size: 2 | 4): Uint8Array {
  const bytes = new Uint8Array(size);
  if (size === 2) viewOf(bytes).setUint16(0, text.byteLength);
  else viewOf(bytes).setUint32(0, text.byteLength);
  return bytes;
}
