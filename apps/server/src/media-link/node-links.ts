import { Injectable } from '@nestjs/common';
import type { ServerMessage } from '@heliphon/core/control/desired-state';

/** The way to one media node that has dialled in. */
export interface NodeLink {
  send(message: ServerMessage): void;
  /** Whether the other end still answers. */
  isThere(): Promise<boolean>;
  end(): void;
}

/**
 * Which nodes have dialled in, each once. In memory while there is one server; where there are several, a node is
 * linked to one of them and known to all.
 */
export abstract class NodeLinks {
  abstract readonly ids: readonly string[];
  abstract of(nodeId: string): NodeLink | undefined;
  /** @returns false where the node has a link already: the first stays */
  abstract open(nodeId: string, link: NodeLink): boolean;
  /** @returns false where that link was given up before */
  abstract close(nodeId: string, link: NodeLink): boolean;
  abstract endAll(): void;
}

@Injectable()
export class NodeLinksInMemory extends NodeLinks {
  readonly #links = new Map<string, NodeLink>();

  override get ids(): readonly string[] {
    return [...this.#links.keys()];
  }

  override of(nodeId: string): NodeLink | undefined {
    return this.#links.get(nodeId);
  }

  override open(nodeId: string, link: NodeLink): boolean {
    if (this.#links.has(nodeId)) return false;
    this.#links.set(nodeId, link);
    return true;
  }

  override close(nodeId: string, link: NodeLink): boolean {
    return this.#links.get(nodeId) === link && this.#links.delete(nodeId);
  }

  override endAll(): void {
    const links = [...this.#links.values()];
    this.#links.clear();
    for (const link of links) link.end();
  }
}
