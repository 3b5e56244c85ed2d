import type { DiskState } from '@heliphon/core/storage/disk-space';
import { Injectable } from '@nestjs/common';
import type { Figures, ProgrammeFigures, SourceFigures } from '@heliphon/core/control/observations';

import { SignalHistory } from './signal-history.js';

/** A node that has not reported for so long is away: its figures are its last. */
const FRESH_MS = 3500;

/** The last figures of the media node, in memory; the database gets minutes of what sources sent. */
@Injectable()
export class LiveFigures {
  #figures: Figures | null = null;
  #takenAtMonotonicMs = -Infinity;
  readonly #refusals = new Map<string, { reason: string; atMs: number }>();
  readonly #listeners = new Set<() => void>();

  constructor(readonly history: SignalHistory) {}

  take(figures: Figures): void {
    this.history.take(figures);
    this.#figures = figures;
    this.#takenAtMonotonicMs = performance.now();
    for (const listener of this.#listeners) listener();
  }

  listen(listener: () => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  get nodeIsHere(): boolean {
    return performance.now() - this.#takenAtMonotonicMs < FRESH_MS;
  }

  get diskFreeBytes(): number | null {
    return this.#figures?.diskFreeBytes ?? null;
  }

  /** How much room the node has; `plenty` while nobody knows. */
  get disk(): DiskState {
    return this.nodeIsHere ? (this.#figures?.disk ?? 'plenty') : 'plenty';
  }

  /** Whether the node has a film on its disk. */
  hasFilm(fileId: string): boolean {
    return this.nodeIsHere && (this.#figures?.films.includes(fileId) ?? false);
  }

  get atMs(): number {
    return this.#figures?.atMs ?? 0;
  }

  sourceOf(sourceId: string): SourceFigures | undefined {
    return this.nodeIsHere
      ? this.#figures?.sources.find((source) => source.sourceId === sourceId)
      : undefined;
  }

  programmeOf(programmeId: string): ProgrammeFigures | undefined {
    return this.#figures?.programmes.find((programme) => programme.programmeId === programmeId);
  }

  get programmes(): readonly ProgrammeFigures[] {
    return this.#figures?.programmes ?? [];
  }

  refused(sourceId: string, reason: string, atMs: number): void {
    this.#refusals.set(sourceId, { reason, atMs });
  }

  lastRefusalOf(sourceId: string): { reason: string; atMs: number } | null {
    return this.#refusals.get(sourceId) ?? null;
  }
}
