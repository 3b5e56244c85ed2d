import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import type { HappeningKind } from '@heliphon/contracts/happenings';
import type { Capability } from '@heliphon/core/access/capabilities';
import type { HouseScope } from './database.js';
import type { HappeningEntity } from './entities.js';
import type { Payload, Recorded } from './happening-payloads.js';

/** A happening as it is taken back: what was written down has been read and checked. */
export type ToUndo<B = unknown, A = unknown> = Pick<
  HappeningEntity,
  'subjectKind' | 'subjectId' | 'houseId'
> &
  Recorded<B, A>;

/** Takes one happening back; runs in the transaction that writes down that it was undone. */
export type UndoHandler<B = unknown, A = unknown> = (
  scope: HouseScope,
  happening: ToUndo<B, A>,
  manager: EntityManager,
) => Promise<unknown>;

export interface Undoing {
  /** What did it, and so what it takes to take it back. */
  readonly needs: Capability;
  readonly takeBack: (
    scope: HouseScope,
    happening: HappeningEntity,
    manager: EntityManager,
  ) => Promise<unknown>;
}

/** Who knows how to take back what: each service says so for its own happenings. */
@Injectable()
export class UndoRegistry {
  readonly #undoings = new Map<HappeningKind, Undoing>();

  /** @param payload - how what was written down is read. */
  register<B, A>(
    kind: HappeningKind,
    needs: Capability,
    payload: Payload<B, A>,
    handler: UndoHandler<B, A>,
  ): void {
    this.#undoings.set(kind, {
      needs,
      takeBack: (scope, row, manager) => {
        const { subjectKind, subjectId, houseId } = row;
        return handler(scope, { subjectKind, subjectId, houseId, ...payload.read(row) }, manager);
      },
    });
  }

  find(kind: HappeningKind): Undoing | undefined {
    return this.#undoings.get(kind);
  }
}
