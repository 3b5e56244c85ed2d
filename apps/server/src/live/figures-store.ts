import type { Figures } from '@heliphon/core/control/observations';
import { Injectable } from '@nestjs/common';

/** The last figures of a node, and when they came here, by this machine's monotonic clock. */
export interface TakenFigures {
  readonly figures: Figures;
  readonly atMonotonicMs: number;
}

/** Why a source was last refused. */
export interface Refusal {
  readonly reason: string;
  readonly atMs: number;
}

/**
 * The last figures of each media node and the last refusal of each source. In memory while there is one server; where
 * there are several, each would hold a copy of what nodes tell the others.
 */
export abstract class FiguresStore {
  abstract readonly byNode: ReadonlyMap<string, TakenFigures>;
  abstract readonly refusals: ReadonlyMap<string, Refusal>;
  abstract take(nodeId: string, figures: Figures): void;
  abstract refuse(sourceId: string, refusal: Refusal): void;
  abstract forgetRefusal(sourceId: string): void;
}

@Injectable()
export class FiguresInMemory extends FiguresStore {
  override readonly byNode = new Map<string, TakenFigures>();
  override readonly refusals = new Map<string, Refusal>();

  override take(nodeId: string, figures: Figures): void {
    this.byNode.set(nodeId, { figures, atMonotonicMs: performance.now() });
  }

  override refuse(sourceId: string, refusal: Refusal): void {
    this.refusals.set(sourceId, refusal);
  }

  override forgetRefusal(sourceId: string): void {
    this.refusals.delete(sourceId);
  }
}
