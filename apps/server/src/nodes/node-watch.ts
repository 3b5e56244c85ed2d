import { Injectable } from '@nestjs/common';
import { LiveFigures } from '../live/live-figures.js';
import { MediaNodes } from './media-nodes.js';

/** Longer than a node that fell takes to be back with its keeper. */
const SILENT_MS = 6000;
const ANSWERS_WITHIN_MS = 1500;
const ASK_AGAIN_MS = 3000;

/**
 * Gives nodes up that have gone. One that only cannot reach us still answers viewers: what it has is left to it, since
 * its encoders are there too.
 */
@Injectable()
export class NodeWatch {
  readonly #beganAtMs = performance.now();
  readonly #askedAtMs = new Map<string, number>();

  constructor(
    private readonly nodes: MediaNodes,
    private readonly figures: LiveFigures,
  ) {}

  /** @returns whether a node was given up just now. */
  async look(): Promise<boolean> {
    const silent = this.nodes.ids.filter((nodeId) => this.#isDue(nodeId));
    const gone = await Promise.all(
      silent.map(async (nodeId) => {
        this.#askedAtMs.set(nodeId, performance.now());
        if (await answers(nodeId, this.nodes.addressesWithin(nodeId).reach)) return false;
        this.nodes.giveUp(nodeId);
        return true;
      }),
    );
    return gone.includes(true);
  }

  #isDue(nodeId: string): boolean {
    if (this.nodes.presenceOf(nodeId) !== 'silent') return false;
    const nowMs = performance.now();
    const silentMs = nowMs - Math.max(this.#beganAtMs, this.figures.takenAtMonotonicMs(nodeId));
    return silentMs >= SILENT_MS && nowMs - (this.#askedAtMs.get(nodeId) ?? -Infinity) >= ASK_AGAIN_MS;
  }
}

/** Something may stand at its address that is not the node: it answers with its own name. */
async function answers(nodeId: string, reachUrl: string): Promise<boolean> {
  return fetch(reachUrl, { signal: AbortSignal.timeout(ANSWERS_WITHIN_MS) }).then(
    async (answer) => answer.ok && (await answer.text()) === nodeId,
    () => false,
  );
}
