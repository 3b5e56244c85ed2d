import { concatBytes } from '@heliphon/core/bytes';
import type { Part } from '@heliphon/core/packaging/packager';

/** Segments held in memory: what players at the live edge ask for, and what may not be on disk yet. */
const SEGMENTS_IN_MEMORY = 8;

/** The newest parts and segments of a programme, as bytes. */
export class PartMemory {
  readonly #parts = new Map<number, Uint8Array>();
  readonly #segments = new Map<number, { bytes: Uint8Array; parts: readonly number[] }>();
  #open: { sequence: number; parts: Part[] } = { sequence: -1, parts: [] };

  keep(part: Part): void {
    if (part.segmentSequence !== this.#open.sequence)
      this.#open = { sequence: part.segmentSequence, parts: [] };
    this.#open.parts.push(part);
    this.#parts.set(part.number, part.bytes);
  }

  /** Joins the parts of a segment that is whole, and forgets the oldest. */
  close(sequence: number): Uint8Array {
    const parts = this.#open.sequence === sequence ? this.#open.parts : [];
    const bytes = concatBytes(parts.map((part) => part.bytes));
    this.#segments.set(sequence, { bytes, parts: parts.map((part) => part.number) });
    for (const [oldest, { parts: numbers }] of this.#segments) {
      if (this.#segments.size <= SEGMENTS_IN_MEMORY) break;
      for (const number of numbers) this.#parts.delete(number);
      this.#segments.delete(oldest);
    }
    return bytes;
  }

  part(number: number): Uint8Array | undefined {
    return this.#parts.get(number);
  }

  segment(sequence: number): Uint8Array | undefined {
    return this.#segments.get(sequence)?.bytes;
  }
}
