import { concatBytes, utf8 } from '../bytes.js';

type Content = readonly (Uint8Array | readonly number[])[];

/** One box of ISO/IEC 14496-12: size, type, content. */
export function box(type: string, ...content: Content): Uint8Array {
  const body = concatBytes(
    content.map((piece) => (piece instanceof Uint8Array ? piece : Uint8Array.from(piece))),
  );
  return concatBytes([Uint8Array.from(u32(8 + body.byteLength)), utf8(type), body]);
}

/** A box with version and flags (14496-12, 4.2). */
export const fullBox = (type: string, version: number, flags: number, ...content: Content): Uint8Array =>
  box(type, [version, ...u32(flags).slice(1)], ...content);

export const u16 = (value: number): number[] => [(value >>> 8) & 0xff, value & 0xff];
export const u32 = (value: number): number[] => [...u16(value >>> 16), ...u16(value & 0xffff)];
export const u64 = (value: number): number[] => [...u32(Math.floor(value / 2 ** 32)), ...u32(value >>> 0)];
export const zeros = (count: number): number[] => new Array<number>(count).fill(0);
