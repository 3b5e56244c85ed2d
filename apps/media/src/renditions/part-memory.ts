import { concatBytes } from '@heliphon/core/bytes';
import type { Part } from '@heliphon/core/packaging/packager';

/** Segments held in memory: what players at the live edge ask for, and what may not be on disk yet. */
const SEGMENTS_IN_MEMORY = 8;
/** So many init segments: one is listed the moment it is made, and with a full disk it is nowhere else. */
const INITS_IN_MEMORY = 64;

interface HeldSegment {
  readonly parts: readonly Part[];
  /** Joined when somebody asks for it: at the live edge players ask for parts. */
  bytes: Uint8Array | null;
}

/** The newest parts and segments of a programme, as bytes. */
export class PartMemory {
  readonly #parts = new Map<number, Part>();
  readonly #segments = new Map<number, HeldSegment>();
  readonly #inits = new Map<number, Uint8Array>();
  #open: { sequence: number; parts: Part[] } = { sequence: -1, parts: [] };

  keep(part: Part): void {
    if (part.segmentSequence !== this.#open.sequence)
      this.#open = { sequence: part.segmentSequence, parts: [] };
    this.#open.parts.push(part);
    this.#parts.set(part.number, part);
  }

  /** A segment is whole; the oldest is forgotten. @returns its size in bytes */
  close(sequence: number): number {
    const parts = this.#open.sequence === sequence ? this.#open.parts : [];
    this.#segments.set(sequence, { parts, bytes: null });
    for (const [oldest, { parts: forgotten }] of this.#segments) {
      if (this.#segments.size <= SEGMENTS_IN_MEMORY) break;
      for (const { number } of forgotten) this.#parts.delete(number);
      this.#segments.delete(oldest);
    }
    return parts.reduce((sum, { bytes }) => sum + bytes.byteLength, 0);
  }

  keepInit(number: number, bytes: Uint8Array): void {
    this.#inits.set(number, bytes);
    if (this.#inits.size > INITS_IN_MEMORY) this.#inits.delete(this.#inits.keys().next().value!);
  }

  init(number: number): Uint8Array | undefined {
    return this.#inits.get(number);
  }

  part(number: number): Part | undefined {
    return this.#parts.get(number);
  }

  segment(sequence: number): Uint8Array | undefined {
    const held = this.#segments.get(sequence);
    if (held) held.bytes ??= concatBytes(held.parts.map(({ bytes }) => bytes));
    return held?.bytes ?? undefined;
  }
}
