import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import type { HouseScope } from './database.js';
import type { HappeningEntity } from './entities.js';

/** Takes one happening back; runs in the transaction that writes down that it was taken back. */
export type Taker = (
  scope: HouseScope,
  happening: HappeningEntity,
  manager: EntityManager,
) => Promise<unknown>;

/** Who knows how to take back what: each service says so for its own happenings. */
@Injectable()
export class UndoRegistry {
  readonly #takers = new Map<string, Taker>();

  register(kind: string, taker: Taker): void {
    this.#takers.set(kind, taker);
  }

  find(kind: string): Taker | undefined {
    return this.#takers.get(kind);
  }
}
